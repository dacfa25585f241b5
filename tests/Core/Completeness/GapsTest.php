<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Completeness;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Completeness\Gap;
use Ypomna\Core\Completeness\GapKind;
use Ypomna\Core\Completeness\GapReason;
use Ypomna\Core\Completeness\Gaps;
use Ypomna\Core\Completeness\Judgement;
use Ypomna\Core\Completeness\PageSeen;
use Ypomna\Core\Completeness\PictureLikeness;
use Ypomna\Core\Completeness\RequestedPart;
use Ypomna\Core\Completeness\Trouble;
use Ypomna\Core\Completeness\Troubles;
use Ypomna\Core\Completeness\Verdict;
use Ypomna\Core\Fetch\Exchange;
use Ypomna\Core\Fetch\FailureReason;
use Ypomna\Tests\Support\Folder;

final class GapsTest extends TestCase
{
    private const PAGE = 'http://lantern.test/a';

    /**
     * @param list<array{0: string, 1?: int|null, 2?: FailureReason|null, 3?: string|null, 4?: string|null, 5?: bool}> $exchanges address,
     *     status, failure, truncated, destination, partial
     * @param list<string> $gaps
     */
    #[DataProvider('pages')]
    public function testWhatIsMissing(string $html, array $exchanges, array $gaps): void
    {
        $main = self::exchange(0, self::PAGE, 200);
        $all = [$main];
        foreach ($exchanges as $n => $one) {
            $all[] = self::exchange($n + 1, ...$one);
        }
        $found = Gaps::of($all, $main, RequestedPart::ofHtml($html, Url::parse(self::PAGE)), [99 => true]);
        self::assertSame($gaps, array_map(static fn (Gap $gap): string => $gap->url.' '.$gap->kind->value.' '.$gap->reason->value, $found));
    }

    /**
     * @return iterable<string, array{
     *     string, list<array{0: string, 1?: int|null, 2?: FailureReason|null, 3?: string|null, 4?: string|null, 5?: bool}>, list<string>,
     * }>
     */
    public static function pages(): iterable
    {
        $x = 'http://lantern.test/x.png';
        yield 'all there' => ['<img src=x.png>', [[$x, 200]], []];
        yield 'never asked for' => ['<img src=x.png>', [], [$x.' image not-requested']];
        yield 'a candidate is there' => ['<img src=y.png srcset="z.png 2x, x.png">', [[$x, 200]], []];
        yield 'a picture of several sources' => [
            '<picture><source srcset=z.png><source srcset=x.png><img src=y.png></picture>', [[$x, 200]], [],
        ];
        yield 'a film of several sources' => [
            '<video poster=p.png><source src=a.webm><source src=x.png></video><img src=q.png>',
            [[$x, 200], ['http://lantern.test/p.png', 200]],
            ['http://lantern.test/q.png image not-requested'],
        ];
        yield 'answered otherwise' => ['<img src=x.png>', [[$x, 404]], [$x.' image status']];
        yield 'by what it is for, else by what refers to it' => [
            '<img src=x.png>',
            [['http://lantern.test/d', 500, null, null, 'empty'], [$x, 500]],
            ['http://lantern.test/d data status', $x.' image status'],
        ];
        yield 'asked twice, had once' => ['<img src=x.png>', [[$x, null, FailureReason::Timeout], [$x, 200]], []];
        yield 'a part of a film' => ['<video src=x.png></video>', [[$x, 206, null, null, 'video', true]], [$x.' media not-requested']];
        yield 'given up by a script' => ['', [[$x, null, FailureReason::Cancelled]], []];
        yield 'given up, though the page shows it' => [
            '<img src=x.png>', [[$x, 200, FailureReason::Cancelled, 'disconnect']], [$x.' image truncated'],
        ];
        yield 'socket beside a page of the same address' => [
            '', [['http://lantern.test/s', 200], ['ws://lantern.test/s', null, FailureReason::NotRecordable, null, 'websocket']],
            ['ws://lantern.test/s data not-recordable'],
        ];
        yield 'for the next page' => ['', [['http://lantern.test/next', 404, null, null, 'prefetch']], []];
        yield 'on paper only' => ['<link rel=stylesheet media=print href=p.css>', [['http://lantern.test/p.css', 404]], []];
        yield 'style that a page may use' => ['<style>a:hover{background:url(h.png)}@font-face{src:url(f.woff2)}</style>', [], []];
        yield 'what needs no network' => [
            '<img src="data:image/gif;base64,R0lGOD"><img src="blob:x"><a href="b"><script type="application/ld+json" src="j"></script>',
            [],
            [],
        ];
    }

    public function testWhyPartsAreMissing(): void
    {
        $reasons = [];
        foreach (FailureReason::cases() as $failure) {
            $reasons[$failure->value] = GapReason::of(self::exchange(1, 'http://x.test/', null, $failure))?->value;
        }
        self::assertSame(
            [
                'no-host' => 'unreachable', 'dns' => 'unreachable', 'guarded' => 'refused', 'refused' => 'unreachable',
                'timeout' => 'timeout', 'tls' => 'tls', 'bad-response' => 'unreachable', 'limit' => 'too-large',
                'not-recordable' => 'not-recordable', 'robots' => 'robots', 'cancelled' => 'truncated',
            ],
            $reasons,
        );
        self::assertSame(GapReason::Truncated, GapReason::of(self::exchange(1, 'http://x.test/', 200, FailureReason::BadResponse)));
        self::assertSame(GapReason::Timeout, GapReason::of(self::exchange(1, 'http://x.test/', 200, null, 'time')));
        self::assertNull(GapReason::of(self::exchange(1, 'http://x.test/', 304)));
    }

    /**
     * @param list<Trouble> $troubles
     */
    #[DataProvider('seen')]
    public function testTroublesAreRecognised(PageSeen $page, array $troubles): void
    {
        self::assertSame($troubles, Troubles::of($page));
    }

    /** @return iterable<string, array{PageSeen, list<Trouble>}> */
    public static function seen(): iterable
    {
        $long = str_repeat('The ferry left the harbour at six with the tide and a light wind from the west. ', 20);
        $page = static fn (string $text, string $html = '', string $title = '', int $status = 200, string $url = self::PAGE): PageSeen =>
            new PageSeen($status, self::PAGE, $url, $title, $text, $html);
        yield 'an article' => [$page($long, '<p>x'), []];
        yield 'an article about captchas and passwords that were not found' => [
            $page('Log in? Page not found? Captcha? '.$long, '<h1>Page not found, and what to do</h1><input type=password>'), [],
        ];
        yield 'Greek' => [$page('Η σελίδα δεν βρέθηκε.', '<h1>Η σελίδα δεν βρέθηκε</h1>'), [Trouble::Soft404]];
        yield 'Japanese' => [$page('お探しのページが見つかりませんでした。'), [Trouble::Soft404]];
        yield 'German' => [$page('Die Seite wurde leider nicht gefunden.'), [Trouble::Soft404]];
        yield 'French' => [$page('Cette page n’existe plus.', '', 'Page introuvable'), [Trouble::Soft404]];
        yield 'removed' => [$page('This article has been removed.', '<h1>The Lantern</h1>'), [Trouble::Soft404]];
        yield 'a short page that is one' => [$page('Closed on Monday.', '<p>x'), []];
        yield 'led to a login' => [$page($long, '<input type="password">', '', 200, 'http://lantern.test/login?next=/a'), [Trouble::Login]];
        yield 'asked for a password by the server' => [$page('', '', '', 401), [Trouble::Login]];
        yield 'refused for now' => [$page('Please complete the security check.', '', '', 403), [Trouble::Challenge]];
        yield 'refused' => [$page('Forbidden', '', '', 403), [Trouble::ErrorStatus]];
        yield 'empty' => [$page('', '<div id=root></div><script src=a></script>'), [Trouble::EmptyShell]];
        yield 'empty but for a picture' => [new PageSeen(200, self::PAGE, self::PAGE, '', '', '<img src=a>', 1), []];
        yield 'still loading' => [$page("  Loading…\n"), [Trouble::EmptyShell]];
        yield 'without scripts' => [$page('Please enable JavaScript to use this site.', '<script src=a></script>'), [Trouble::EmptyShell]];
        yield 'an applet' => [$page($long, '<applet code="Tide.class"></applet>'), [Trouble::Plugin]];
    }

    public function testTheWorstDecides(): void
    {
        $gap = static fn (GapReason $reason): Gap => new Gap('http://x.test/', GapKind::Image, $reason);
        $word = static fn (Judgement $judgement): string => $judgement->verdict->value.' '.$judgement->reason;
        self::assertSame('whole ', $word(Judgement::of([$gap(GapReason::Status)], [Trouble::Plugin], true)));
        self::assertSame('whole ', $word(Judgement::of([], [], null)));
        self::assertSame('gaps replay', $word(Judgement::of([], [], false)));
        self::assertSame('gaps gaps', $word(Judgement::of([$gap(GapReason::Timeout)], [], true)));
        self::assertSame('gaps consent', $word(Judgement::of([$gap(GapReason::Timeout)], [Trouble::Consent], true)));
        self::assertSame('failed consent', $word(Judgement::of([], [Trouble::Consent], true, true)));
        self::assertSame('failed login', $word(Judgement::of([$gap(GapReason::Timeout)], [Trouble::EndlessScroll, Trouble::Login], true)));
        self::assertSame(Verdict::Gaps, Trouble::CutOff->verdict());
    }

    public function testPicturesAreAlikeByTheirArea(): void
    {
        $folder = new Folder();
        $draw = static function (string $name, int $part, int $height = 400) use ($folder): string {
            $image = imagecreatetruecolor(400, max(1, $height));
            imagefilledrectangle($image, 0, 0, 400, $height, 0xFFFFFF);
            imagefilledrectangle($image, 0, 0, 399, (int) ($height * $part / 100) - 1, 0x204060);
            imagepng($image, $path = $folder->file($name, ''));

            return $path;
        };
        $blank = $draw('blank.png', 0);
        self::assertSame(1.0, PictureLikeness::of([$blank], [$draw('again.png', 0)]));
        self::assertEqualsWithDelta(0.75, PictureLikeness::of([$blank], [$draw('quarter.png', 25)]), 0.01);
        self::assertEqualsWithDelta(0.5, PictureLikeness::of([$blank], [$draw('long.png', 0, 800)]), 0.01);
        self::assertEqualsWithDelta(0.5, PictureLikeness::of([$blank, $blank], [$blank]), 0.01);
        self::assertSame(0.0, PictureLikeness::of([$blank], [$folder->file('broken.png', 'no picture')]));
        self::assertSame(0.0, PictureLikeness::of([], [$blank]));
        self::assertGreaterThan(0.98, PictureLikeness::of([$blank], [$draw('moved.png', 25)], [[0, 0, 400, 100]]));
        self::assertEqualsWithDelta(
            0.875, PictureLikeness::of([$blank, $blank], [$blank, $draw('second.png', 50)], [[0, 400, 400, 500]]), 0.02,
        );
    }

    private static function exchange(
        int $number,
        string $url,
        ?int $status = null,
        ?FailureReason $failure = null,
        ?string $truncated = null,
        ?string $destination = null,
        bool $partial = false,
    ): Exchange {
        $exchange = new Exchange($number, $url, 'GET', new \DateTimeImmutable('2024-11-03'), '', '');
        $exchange->status = $status;
        $exchange->responseBytes = null === $status ? 0 : 10;
        $exchange->failure = $failure;
        $exchange->truncated = $truncated;
        $exchange->destination = $destination;
        $exchange->partial = $partial;

        return $exchange;
    }
}
