<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Liveness;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Liveness\Asker;
use Ypomna\Core\Liveness\Assessor;
use Ypomna\Core\Liveness\CheckResult;
use Ypomna\Tests\Support\Frames;

/** The same contents in pages built in nine ways: what stands around a message, or a short text, decides nothing. */
final class FramesTest extends TestCase
{
    /**
     * @param list<string> $bodies
     * @param list<string> $known what is known to be told wrong
     */
    #[DataProvider('contents')]
    public function testWhatStandsAroundDecidesNothing(string $expected, array $bodies, bool $isEverywhere, array $known = []): void
    {
        $wrong = [];
        foreach (Frames::ALL as $frame) {
            foreach ($bodies as $n => $body) {
                $found = $this->judge(
                    Frames::around($frame, $body, $n),
                    $isEverywhere ? null : Frames::around($frame, '<h1>No such thing</h1><p>Look elsewhere.</p>', 1),
                );
                if ($found !== $expected) {
                    $wrong[] = "{$frame}, {$body}: {$found}";
                }
            }
        }
        self::assertSame($known, $wrong);
    }

    /**
     * @return iterable<string, array{0: string, 1: list<string>, 2: bool, 3?: list<string>}>
     */
    public static function contents(): iterable
    {
        $gone = [
            '<h1>Page not found</h1>', '<h1>404</h1><p>The page you asked for is not here.</p>',
            '<h1>Oops!</h1><p>We can’t find the page you’re looking for.</p>', '<h2>This article is no longer available</h2>',
            '<p>This post has been deleted.</p>', '<h1>Not found</h1><p>Sorry, there is no such page.</p>',
            '<h1>Seite nicht gefunden</h1><p>Die gesuchte Seite existiert nicht.</p>',
            '<h1>Fehler 404</h1>', '<p>Dieser Beitrag wurde gelöscht.</p>', '<h1>Page introuvable</h1><p>Vérifiez l’adresse.</p>',
            '<p>Cet article a été supprimé.</p>', '<h1>Página no encontrada</h1>', '<p>El contenido ya no está disponible.</p>',
            '<h1>Pagina non trovata</h1>', '<h1>Página não encontrada</h1>', '<h1>Pagina niet gevonden</h1>',
            '<h1>Sidan hittades inte</h1>', '<h1>Siden blev ikke fundet</h1>', '<h1>Sivua ei löytynyt</h1>',
            '<h1>Nie znaleziono strony</h1>', '<h1>Stránka nenalezena</h1>', '<h1>Az oldal nem található</h1>',
            '<h1>Pagina nu a fost găsită</h1>', '<h1>Η σελίδα δεν βρέθηκε</h1>', '<h1>Страница не найдена</h1>',
            '<h1>Сторінку не знайдено</h1>',
            '<h1>Sayfa bulunamadı</h1>', '<h1>Không tìm thấy trang</h1>', '<h1>Halaman tidak ditemukan</h1>', '<h1>الصفحة غير موجودة</h1>',
            '<h1>הדף לא נמצא</h1>', '<h1>ページが見つかりません</h1>', '<h1>找不到页面</h1>', '<h1>페이지를 찾을 수 없습니다</h1>',
        ];
        yield 'gone, where others are not' => ['vanished soft-404', $gone, false];
        yield 'gone, as all addresses are' => [
            'vanished soft-404', [...$gone, '<h1>Welcome</h1><p>Choose from the menu.</p>', '<h1>Kesra</h1><p>Qua nen tibo.</p>'], true,
        ];
        yield 'short, and there' => ['alive ok', [
            '<h1>Opening hours</h1><p>Monday to Friday, nine to noon.</p>', '<h1>Pier closed</h1><p>The pier is closed until 4 May.</p>',
            '<h1>Kapitän gesucht</h1><p>Für die Fähre nach Torr, ab März.</p>', '<h1>Tarifs</h1><p>Adultes 12, enfants 6.</p>',
            '<h1>Lost umbrella</h1><p>It was found on the ferry and waits at the desk.</p>',
            '<h1>Δρομολόγια</h1><p>Κάθε μέρα στις επτά.</p>',
            '<h1>Расписание</h1><p>Ежедневно в семь утра.</p>', '<h1>欠航のお知らせ</h1><p>本日の便はすべて欠航します。</p>',
            '<h1>Berth 12</h1><table><tr><td>Length<td>9 m<tr><td>Depth<td>2 m</table>',
            '<h1>Members of the board</h1><ul><li>Mira Oxley<li>Ivo Marsh<li>Oda Fenn</ul>',
            '<h1>Password of the week</h1><p>Herring. Say it at the door of the net loft.</p>',
            '<h1>Our privacy</h1><p>Nobody looks into our garden since the hedge has grown.</p>',
        ], false, ['banner, <h1>Our privacy</h1><p>Nobody looks into our garden since the hedge has grown.</p>: blocked consent']];
        $story = '<p>The keeper of Skerry Light wrote into her book each evening what she had seen, and for nineteen years she had seen'
            .' the same three boats.</p><p>On 2 March she wrote of a fourth one, which came without lamps from the north and lay below'
                .' the cliff until it was dark.</p><p>Two days later men of the harbour board asked for the book. She gave them the one'
                    .' of the year before.</p><p>The book of that year is in the care of a notary. He lets nobody read it, and tells'
                        .' everybody that it is there. It has two hundred pages, of which the last nine are said to be empty, though she'
                            .' wrote every day.</p>';
        yield 'long, and there' => [
            'alive ok',
            [
                '<article><h1>Skerry Light</h1>'.$story.'</article>',
                '<h1>Page not found: what became of the keeper’s book</h1>'.$story,
                '<div><h2>This page has been removed</h2>'.$story.'</div>',
                '<h1>Subscribe to the light</h1>'.$story,
            ],
            false,
        ];
        yield 'behind a gate' => ['blocked login', [
            '<h1>Skerry Light</h1><p>The keeper wrote into her book each evening.</p><div><p>Subscribe to continue reading.</p></div>',
            '<h1>Skerry Light</h1><p>The keeper wrote into her book each evening.</p><div><h3>Log in to read the full story</h3></div>',
            '<h1>Skerry Light</h1><p>Die Wärterin schrieb jeden Abend in ihr Buch.</p><p>Jetzt mit Abo weiterlesen</p>',
            '<h1>Skerry Light</h1><p>La gardienne écrivait chaque soir.</p><p>Cet article est réservé aux abonnés.</p>',
            '<h1>Skerry Light</h1><p>La farera escribía cada noche.</p><p>Suscríbete para seguir leyendo</p>',
            '<h1>スケリー灯台</h1><p>灯台守は毎晩日記を書いた。</p><p>続きを読むには会員登録が必要です</p>',
        ], false];
    }

    /** What the server says is one and the same for whatever scripts will show: nothing follows from that. */
    public function testPagesThatScriptsMake(): void
    {
        $shells = [
            '<div id=root></div>', '<main id="app"><noscript>Please turn scripts on to use this page.</noscript></main>',
            '<div id="__next"><!-- --></div>', '<harbour-app></harbour-app>', '<div class=x id=app-root>Loading…</div>',
        ];
        foreach ($shells as $shell) {
            $page = '<!doctype html><html><head><title>Sound Harbour</title><script src=/a.js></script></head><body><header><a'
                .' href=/>Sound Harbour</a> All boats, all piers, all day</header>'
                .$shell.'<footer>Sound Harbour, Quay 1</footer></body></html>';
            self::assertSame('alive ok', $this->judge($page, null), $shell);
            self::assertSame('alive ok', $this->judge($page, $page), $shell.', with status 404 elsewhere');
            $filled = str_replace($shell, '<div id=root><h1>Page not found</h1><p>No such pier.</p></div>', $page);
            self::assertSame('vanished soft-404', $this->judge($filled, null), 'what the server fills tells');
        }
        self::assertSame(
            'vanished soft-404',
            $this->judge(
                '<title>Sound Harbour</title><h1>Kesra velta</h1><p>Qua nen tibo kessa muno.</p><script src=/count.js></script>',
                '<title>Sound Harbour</title><h1>Kesra velta</h1><p>Qua nen tibo kessa muno.</p>',
            ),
            'the page for what is not there, with status 200',
        );
    }

    /** @param list<string> $bodies */
    #[DataProvider('barriers')]
    public function testWhatStandsBeforeAllPagesOfASite(string $expected, array $bodies): void
    {
        foreach (['bare', 'elements', 'boxes', 'tables', 'scripts', 'small-print'] as $frame) {
            foreach ($bodies as $n => $body) {
                self::assertSame($expected, $this->judge(Frames::around($frame, $body, $n), null), $frame.': '.$body);
            }
        }
    }

    /**
     * @return iterable<string, array{string, list<string>}>
     */
    public static function barriers(): iterable
    {
        yield 'consent' => ['blocked consent', [
            '<h1>We value your privacy</h1><p>We and our partners use cookies.</p><button>Accept all</button>',
            '<div class=w><h2>Before you continue</h2><p>This site stores cookies to show you advertising. By agreeing you let'
                .' us.</p><button>I agree</button><a href=/more>More</a></div>',
            '<h1>Ihre Privatsphäre</h1><p>Wir und unsere Partner verwenden Cookies.</p><button>Alle akzeptieren</button>',
            '<dialog open><p>Nous utilisons des cookies avec votre consentement.</p><button>Tout accepter</button></dialog>',
        ]];
        yield 'sign-in' => ['blocked login', [
            '<h1>Log in</h1><form><input name=u><input type=password name=p><button>Log in</button></form>',
            '<h1>Members only</h1><p>Please sign in to see this page.</p><form><input name=u><input type=password'
                .' name=p><button>Go</button></form>',
            '<h1>Anmelden</h1><form><label>Name<input></label><label>Passwort<input'
                .' type=password></label><button>Anmelden</button></form><p><a href=/x>Passwort vergessen?</a></p>',
            '<h1>Skerry Light</h1><p>Only the beginning stands here.</p><p>Subscribe to continue reading.</p>',
        ]];
        yield 'nobody’s' => [
            'vanished parked',
            [
                '<h1>skerry.test is for sale</h1>',
                '<h1>This domain has expired</h1><p>Renew it with your provider.</p>',
                '<h1>Account suspended</h1><p>Contact your hosting provider.</p>',
                '<p>Diese Domain steht zum Verkauf.</p>',
            ],
        ];
        yield 'riddles' => [
            'blocked challenge',
            ['<h1>Are you human?</h1><p>Please complete the captcha.</p>', '<h1>Just a moment</h1><p>We are checking your browser.</p>'],
        ];
    }

    private function judge(string $html, ?string $missing): string
    {
        $asker = new class($html, $missing) implements Asker {
            public function __construct(private readonly string $html, private readonly ?string $missing)
            {
            }

            public function check(Url $url): CheckResult
            {
                return new CheckResult(
                    $url, $url, [], null === $this->missing ? 200 : 404, 'text/html', 'text/html; charset=utf-8',
                    $this->missing ?? $this->html,
                );
            }
        };
        $url = Url::parse('http://skerry.test/en/2024/held');
        $made = 0;
        $judged = (new Assessor($asker, static function () use (&$made): string { return 'ymadeup'.++$made; }))
            ->judge(new CheckResult($url, $url, [], 200, 'text/html', 'text/html; charset=utf-8', $html));

        return $judged->verdict->value.' '.$judged->reason->value;
    }
}
