<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Liveness;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Liveness\Asker;
use Ypomna\Core\Liveness\Assessor;
use Ypomna\Core\Liveness\CheckResult;
use Ypomna\Core\Liveness\LiveReason;
use Ypomna\Core\Page\MainText;
use Ypomna\Tests\Support\Edited\Articles;

/** Verdicts over what servers do, from one look and the looks that the check makes itself. */
final class AssessorTest extends TestCase
{
    /**
     * @param array{int|null, string, string, 3?: string} $answer status, final address, body, media type
     * @param array{int|null, string, string}|null $beside what a made-up address beside it gets; null: 404
     */
    #[DataProvider('scenes')]
    public function testTheVerdict(
        string $verdict,
        array $answer,
        ?array $beside = null,
        ?string $held = null,
        string $asked = 'http://lantern.test/2024/11/held',
    ): void {
        $url = Url::parse($asked);
        $asker = new class($beside) implements Asker {
            /** @param array{int|null, string, string}|null $beside */
            public function __construct(private readonly ?array $beside)
            {
            }

            public function check(Url $url): CheckResult
            {
                [$status, $final, $body] = $this->beside ?? [404, (string) $url, '<h1>Not found</h1>'];

                return new CheckResult(
                    $url, Url::parse('' === $final ? (string) $url : $final), [], $status, 'text/html', 'text/html; charset=utf-8',
                    str_replace('{url}', $url->path, $body),
                );
            }
        };
        $result = new CheckResult(
            $url, Url::parse('' === $answer[1] ? $asked : $answer[1]), [], $answer[0], $answer[3] ?? 'text/html',
            ($answer[3] ?? 'text/html').'; charset=utf-8', str_replace('{url}', $url->path, $answer[2]),
        );
        $judged = (new Assessor($asker, static fn (): string => 'ymadeup'))->judge(
            $result, null === $held ? null : MainText::fromHtml($held, 'text/html; charset=utf-8'),
        );
        self::assertSame($verdict, $judged->verdict->value.' '.$judged->reason->value, implode(' ', $judged->evidence));
        self::assertNotSame([], $judged->evidence);
        self::assertGreaterThan(0.0, $judged->confidence);
    }

    /**
     * @return iterable<string, array{
     *     0: string, 1: array{int|null, string, string, 3?: string}, 2?: array{int|null, string, string}|null, 3?: string|null, 4?: string,
     * }>
     */
    public static function scenes(): iterable
    {
        $article = Articles::page('news', 'en', 5)->html;
        $other = Articles::page('news', 'en', 900)->html;
        $greek = Articles::page('notice', 'el', 5)->html;
        $page = static fn (string $title, string $body): string => "<!doctype html><title>{$title}</title><body>{$body}";
        yield 'an article' => ['alive ok', [200, '', $article]];
        yield 'an article, held' => ['alive ok', [200, '', $article], null, $article];
        yield 'to https' => ['alive ok', [200, 'https://lantern.test/2024/11/held', $article]];
        yield 'with www' => ['alive ok', [200, 'https://www.lantern.test/2024/11/held/', $article]];
        yield 'not found' => ['vanished not-found', [404, '', '']];
        yield 'gone' => ['vanished gone', [410, '', '']];
        yield 'sign in' => ['blocked login', [401, '', '']];
        yield 'forbidden' => ['blocked forbidden', [403, '', '<h1>Forbidden</h1>']];
        yield 'legal' => ['blocked legal', [451, '', '']];
        yield 'too many' => ['blocked rate-limit', [429, '', '']];
        yield 'server error' => ['unreachable server-error', [500, '', '']];
        yield 'a challenge' => [
            'blocked challenge', [403, '', $page('Just a moment', '<p>Checking your browser. Verify you are human.</p>')],
        ];
        yield 'a challenge with 200' => ['blocked challenge', [200, '', $page('Security check', '<p>Please complete the captcha.</p>')]];
        yield 'empty' => ['unreachable bad-response', [200, '', "  \n"]];
        yield 'moved' => ['moved redirect', [200, 'http://new.test/pages/held', $article]];
        yield 'moved, and the same' => ['moved redirect', [200, 'http://new.test/', $article], null, $article];
        yield 'to the front page' => ['vanished home-redirect', [200, 'http://lantern.test/', Articles::page('front', 'en', 3)->html]];
        yield 'to the front page of another host' => [
            'vanished home-redirect', [200, 'http://new.test/en/', Articles::page('front', 'en', 3)->html],
        ];
        yield 'to a page for errors' => [
            'vanished soft-404', [200, 'http://lantern.test/errors/404.html', $page('Lantern', '<p>Here are some stories for you.</p>')],
        ];
        yield 'everything leads to one page' => [
            'vanished soft-404',
            [200, 'http://lantern.test/moved-around', $page('Lantern', '<p>We have a new look.</p>')],
            [200, 'http://lantern.test/moved-around', $page('Lantern', '<p>We have a new look.</p>')],
        ];
        yield 'it says so' => ['vanished soft-404', [200, '', $page('Page not found', '<p>Try the search.</p>')]];
        yield 'it was removed' => [
            'vanished soft-404', [200, '', $page('Lantern', '<h1>Sorry</h1><p>This article has been removed.</p>')], null, $article,
        ];
        yield 'removed, in German' => ['vanished soft-404', [200, '', $page('Lantern', '<p>Dieser Artikel wurde gelöscht.</p>')]];
        yield 'removed, in Greek' => ['vanished soft-404', [200, '', $page('Lantern', '<p>Η σελίδα που ζητήσατε δεν βρέθηκε.</p>')]];
        yield 'removed, in Japanese' => ['vanished soft-404', [200, '', $page('Lantern', '<p>お探しのページは見つかりませんでした。</p>')]];
        yield 'in no words that are known' => [
            'vanished soft-404',
            [200, '', $page('Zzz', '<p>Qua lorem nen tibo {url} kessa muno velta ore.</p>')],
            [200, '', $page('Zzz', '<p>Qua lorem nen tibo {url} kessa muno velta ore.</p>')],
        ];
        yield 'a short page of its own' => [
            'alive ok',
            [200, '', $page('Pier 4', '<p>Pier 4 is open daily from six.</p>')],
            [200, '', $page('Lost', '<p>There is nothing by that name on this site, try another.</p>')],
        ];
        yield 'an article about dead links' => [
            'alive ok',
            [
                200,
                '',
                str_replace(
                    '</article>',
                    '<p>Many pages say that the page was not found. This article has been removed, they say, or 404.</p></article>',
                    $article,
                ),
            ],
        ];
        yield 'parked' => [
            'vanished parked',
            [200, '', $page('lantern.test', '<h1>lantern.test</h1><p>This domain may be for sale.</p><ul><li><a href=/1>Ferries</a></ul>')],
        ];
        yield 'suspended' => ['vanished parked', [200, '', $page('Account suspended', '<p>This account has been suspended.</p>')]];
        yield 'a default page' => [
            'vanished parked',
            [
                200,
                '',
                $page(
                    'Welcome to nginx!',
                    '<h1>Welcome to nginx!</h1><p>If you see this page, the nginx web server is successfully installed.</p>',
                ),
            ],
        ];
        yield 'a consent wall' => [
            'blocked consent',
            [
                200,
                '',
                $page(
                    'Before you continue',
                    '<h1>Your privacy</h1><p>We and our partners use cookies.</p><button>Accept all</button><button>Settings</button>',
                ),
            ],
        ];
        yield 'a banner over an article' => [
            'alive ok',
            [200, '', str_replace('<header', '<div class=cookie><p>We use cookies.</p><button>Accept</button></div><header', $article)],
        ];
        yield 'a login' => [
            'blocked login',
            [
                200,
                'http://lantern.test/login?next=x',
                $page('Sign in', '<form><input name=u><input type=password><button>Sign in</button></form>'),
            ],
        ];
        yield 'a paywall' => [
            'blocked login',
            [200, '', $page('Held', '<h1>Held in port</h1><p>The ferry was held.</p><p>Subscribe to continue reading this article.</p>')],
        ];
        yield 'another text' => ['changed content', [200, '', $other], null, $greek];
        yield 'a page for a file' => ['changed content', [200, '', $article], null, null, 'http://lantern.test/report.pdf'];
        yield 'a file' => ['alive ok', [200, '', '%PDF-1.4 …', 'application/pdf'], null, null, 'http://lantern.test/report.pdf'];
        yield 'a text' => ['alive ok', [200, '', 'Plain words of a text.', 'text/plain']];
        yield 'the front page itself' => [
            'alive ok', [200, '', Articles::page('front', 'en', 3)->html], null, null, 'http://lantern.test/',
        ];
        yield 'a site that says the same to everything, still with the text' => [
            'alive ok', [200, '', $article], [200, '', $article], $article,
        ];
    }

    public function testWhatWasNotAnsweredIsToldAsItIs(): void
    {
        $url = Url::parse('http://x.test/');
        $assessor = new Assessor(new class implements Asker {
            public function check(Url $url): CheckResult
            {
                throw new \LogicException('Nothing is asked about what was not answered.');
            }
        }, static fn (): string => 'x');
        foreach ([
            LiveReason::NoHost, LiveReason::Dns, LiveReason::Timeout, LiveReason::Refused, LiveReason::Tls, LiveReason::RedirectLoop,
            LiveReason::BadResponse,
        ] as $reason) {
            $judged = $assessor->judge(new CheckResult($url, $url, [], null, failure: $reason, message: 'why'));
            self::assertSame([$reason, $reason->verdict(), ['why']], [$judged->reason, $judged->verdict, $judged->evidence]);
        }
    }
}
