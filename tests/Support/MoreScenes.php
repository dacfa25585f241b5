<?php

declare(strict_types=1);

namespace Ypomna\Tests\Support;

use Ypomna\Standin\Web\Request;
use Ypomna\Standin\Web\Response;
use Ypomna\Tests\Support\Edited\Articles;

/** More scenes, which at first were kept aside. */
final class MoreScenes extends SceneSite
{
    protected function domain(): string
    {
        return 'more.test';
    }

    protected function fill(): void
    {
        $nav = '<nav><a href=/>Start</a> <a href=/sea>Sea</a> <a href=/help>Help</a></nav>';

        $this->scene(
            'sorry-in-title',
            'alive ok',
            self::lone(self::page(
                'Sorry we missed you',
                '<h1>Sorry we missed you</h1><p>The parcel boat calls again tomorrow at nine. Leave word at the kiosk if somebody else'
                    .' may sign.</p>',
            )),
        );
        $this->scene(
            'help-about-missing',
            'alive ok',
            self::lone(self::page(
                'Help: page not found errors',
                $nav.'<h1>Help: page not found errors</h1><p>Old bookmarks of the timetable lead to an error since the spring. Open the'
                    .' start page, choose Sea and then Timetable, and save that address instead. If a printed leaflet has the old one,'
                        .' tell us its number, which stands at the foot of the last page, and we send you a new leaflet by post.</p>',
            )),
        );
        $this->scene(
            'index-of-ships',
            'alive ok',
            self::lone(self::page(
                'Index of ships',
                '<h1>Index of ships</h1><ul><li>Petrel Dawn, 1998</li><li>Hollin Star, 2004</li><li>Merrow Queen, 1971</li></ul>',
            )),
        );
        $this->scene(
            'about-passwords', 'alive ok', self::lone(str_replace('<h1>', '<h1>Sign in safely: ', Articles::page('blog', 'en', 101)->html)),
        );
        $this->scene(
            'call-to-subscribe',
            'alive ok',
            self::lone(str_replace(
                '</article>', '<p>Like this? Subscribe to read more like it.</p></article>', Articles::page('semantic', 'en', 102)->html,
            )),
        );
        $this->scene(
            'contact-with-riddle',
            'alive ok',
            self::lone(self::page(
                'Write to the harbour office',
                $nav.'<h1>Write to the harbour office</h1><p>The office answers within two working days. For berths in summer say the'
                    .' length and draught of the boat, the days you want to stay, and whether you need water and current at the quay.'
                        .' Letters reach us at 4 Quay Street.</p><form><textarea></textarea><div'
                            .' class="captcha-box"></div><button>Send</button></form>',
            )),
        );
        $this->scene(
            'cookie-policy',
            'alive ok',
            self::lone(
                self::page(
                    'Cookie policy',
                    $nav.'<h1>Cookie policy</h1>'
                        .str_repeat(
                            '<p>This site sets one cookie to remember the zone in which you read times. It is deleted after a year. No'
                                .' partner gets it, and nothing is counted. You can delete it in your browser whenever you like, and the'
                                    .' site goes on to work without.</p>',
                            4,
                        ),
                ),
                '/cookies',
            ),
            '/cookies',
        );
        $this->scene(
            'we-are-moving',
            'alive ok',
            self::lone(self::page(
                'We are moving', '<h1>We are moving</h1><p>Our office moves to Quay 5 on 3 May. Telephone and boats stay the same.</p>',
            )),
        );
        $this->scene(
            'thai',
            'alive ok',
            self::lone(self::page(
                'เรือข้ามฟาก',
                '<h1>เรือข้ามฟากหยุดให้บริการ</h1><p>เรือข้ามฟากจอดอยู่ที่ท่าเรือเพราะประตูท้ายรั่ว'
                    .' บริษัทแจ้งว่าจะกลับมาให้บริการในอีกสองสัปดาห์ ผู้โดยสารสามารถใช้เรือลำอื่นได้ตามตารางเวลาปกติ</p>',
            )),
        );
        $this->scene(
            'json',
            'alive ok',
            static fn (Request $r): Response => '/api/berths.json' === $r->path
                ? Response::of('application/json', '{"berths":[{"id":4,"error":"not found"}]}')
                : self::notFound(),
            '/api/berths.json',
        );
        $this->scene(
            'csv',
            'alive ok',
            static fn (Request $r): Response => '/register.csv' === $r->path
                ? Response::of('text/csv', "ship,built\nPetrel Dawn,1998\n")
                : self::notFound(),
            '/register.csv',
        );
        $this->scene(
            'feed',
            'alive ok',
            static fn (Request $r): Response => '/feed' === $r->path
                ? Response::of(
                    'application/rss+xml',
                    '<?xml version="1.0"?><rss><channel><title>Lantern</title><item><title>Held</title></item></channel></rss>',
                )
                : self::notFound(),
            '/feed',
        );
        $this->scene(
            'picture',
            'alive ok',
            static fn (Request $r): Response => '/petrel.png' === $r->path
                ? Response::of('image/png', "\x89PNG\r\n\x1a\n".random_bytes(200))
                : self::notFound(),
            '/petrel.png',
        );
        $this->scene(
            'frames',
            'alive ok',
            self::lone(
                '<HTML><HEAD><TITLE>The Petrel Dawn page</TITLE></HEAD><FRAMESET COLS="20%,*"><FRAME SRC="menu.htm"><FRAME'
                    .' SRC="main.htm"></FRAMESET></HTML>',
                '/index2.htm',
            ),
            '/index2.htm',
        );
        $this->scene(
            'a-scan',
            'alive ok',
            self::lone(self::page(
                'Log of 12 May', '<figure><img src=scan.jpg width=1200 height=1800><figcaption>Log of 12 May</figcaption></figure>',
            )),
        );
        $this->scene('shell', 'alive ok', self::all('<!doctype html><title>Sound</title><div id=root></div><script src=/app.js></script>'));
        $this->scene(
            'redesigned',
            'alive ok',
            self::lone(str_replace(
                ['class=page', '<main>', '</main>'],
                ['class="grid new"', '<div id=c><p>New: read the Lantern by mail.</p>', '</div>'],
                Articles::page('news', 'en', 103)->html,
            )),
            held: Articles::page('news', 'en', 103)->html,
        );
        $this->scene(
            'another-date',
            'alive ok',
            self::lone(self::page('Pier closed', '<h1>Pier closed</h1><p>The pier is closed for repairs until 11 May. Use pier four.</p>')),
            held: self::page('Pier closed', '<h1>Pier closed</h1><p>The pier is closed for repairs until 4 May. Use pier four.</p>'),
        );
        $this->scene(
            'another-season',
            'alive ok',
            self::lone(self::page(
                'Timetable',
                '<h1>Timetable, winter</h1><table><tr><th>From<th>To<th>Leaves<tr><td>Saltmarch<td>Hollin'
                    .' Quay<td>06:40<tr><td>Saltmarch<td>Hollin Quay<td>11:15<tr><td>Hollin Quay<td>Saltmarch<td>07:50</table>',
            )),
            held: self::page(
                'Timetable',
                '<h1>Timetable, summer</h1><table><tr><th>From<th>To<th>Leaves<tr><td>Saltmarch<td>Hollin'
                    .' Quay<td>06:10<tr><td>Saltmarch<td>Hollin Quay<td>09:40<tr><td>Hollin Quay<td>Saltmarch<td>07:20</table>',
            ),
        );
        $this->scene(
            'vertical',
            'alive ok',
            self::lone(self::page('운항 중단', '<h1>여객선 운항 중단</h1><p>선미 문에서 물이 새어 여객선 운항이 중단되었습니다. 회사는 두 주 뒤에 운항을 다시 시작한다고 밝혔습니다.</p>')),
        );
        $this->scene(
            'search-that-found',
            'alive ok',
            static fn (Request $r): Response => '/search' === $r->path
                ? Response::html(self::page(
                    'Search: seal',
                    '<h1>Search: seal</h1><p>Three pages have it.</p><ul><li><a href=/1>Stern seal 400</a><li><a href=/2>Bow seal'
                        .' 210</a><li><a href=/3>Seal care</a></ul>',
                ))
                : self::notFound(),
            '/search?q=seal',
        );

        foreach (['fi' => [
            'Virhe', 'Sivua ei löytynyt', 'Etsimääsi sivua ei ole olemassa.',
        ], 'da' => ['Fejl', 'Siden blev ikke fundet', 'Siden findes ikke længere.'],
            'cs' => ['Chyba', 'Stránka nenalezena', 'Požadovaná stránka neexistuje.'],
            'hu' => ['Hiba', 'Az oldal nem található', 'A keresett oldal nem létezik.'],
            'ro' => ['Eroare', 'Pagina nu a fost găsită', 'Pagina căutată nu există.'], 'uk' => [
                'Помилка', 'Сторінку не знайдено', 'Такої сторінки не існує.',
            ], 'vi' => ['Lỗi', 'Không tìm thấy trang', 'Trang bạn tìm không tồn tại.'],
            'fa' => ['خطا', 'صفحه یافت نشد', 'صفحه مورد نظر شما وجود ندارد.'],
            'hi' => ['त्रुटि', 'पृष्ठ नहीं मिला', 'आप जिस पृष्ठ को खोज रहे हैं वह मौजूद नहीं है।']] as $language => [$title, $head,
                $words]) {
            $this->scene('lone-'.$language, 'vanished soft-404', self::lone(self::page($title, $nav."<h1>{$head}</h1><p>{$words}</p>")));
        }
        $this->scene(
            'no-longer-available',
            'vanished soft-404',
            self::lone(self::page('Lantern', $nav.'<h1>Content no longer available</h1><form><input name=q></form>')),
        );
        $this->scene(
            'error-query',
            'vanished home-redirect',
            static fn (Request $r): Response => '/' === $r->path
                ? Response::html(Articles::page('front', 'en', 111)->html)
                : Response::redirect('/?error=404', 302),
        );
        $this->scene(
            'error-path',
            'vanished soft-404',
            static fn (Request $r): Response => str_starts_with($r->path, '/Error/NotFound')
                ? Response::html(self::page('Board', '<p>Try the menu.</p>'))
                : Response::redirect('/Error/NotFound?path='.rawurlencode($r->path), 302),
        );
        $this->scene(
            'error-file',
            'vanished soft-404',
            static fn (Request $r): Response => '/404.aspx' === $r->path
                ? Response::html(self::page('Board', '<p>Something went wrong with your request.</p>'))
                : Response::redirect('/404.aspx?errorpath='.rawurlencode($r->path), 302),
        );
        $this->scene(
            'to-start',
            'vanished home-redirect',
            static fn (Request $r): Response => '/home.html' === $r->path
                ? Response::html(Articles::page('front', 'en', 112)->html)
                : Response::redirect('/home.html', 302),
        );
        $this->scene(
            'only-this-to-front',
            'vanished home-redirect',
            static fn (Request $r): Response => '/' === $r->path
                ? Response::html(Articles::page('front', 'en', 113)->html)
                : (self::PATH === $r->path ? Response::redirect('/', 301) : self::notFound()),
        );
        $this->scene(
            'job-filled',
            'vanished soft-404',
            self::lone(self::page(
                'Deckhand', $nav.'<h1>Deckhand</h1><p>This job is no longer available.</p><p><a href=/jobs>All jobs</a></p>',
            )),
        );
        $this->scene(
            'blank-template',
            'vanished soft-404',
            self::all(self::page('Harbour', $nav.'<h1>Harbour</h1><p>Choose a page from the menu to go on.</p>')),
        );
        foreach ([
            'ru' => 'Домен продаётся. Сделайте предложение.', 'it' => 'Questo dominio è in vendita.', 'pt' => 'Este domínio está à venda.',
            'nl' => 'Dit domein is te koop.', 'pl' => 'Ta domena jest na sprzedaż.', 'zh' => '此域名正在出售，欢迎联系。',
            'en' => 'more.test is parked. The owner may sell it.',
        ] as $language => $words) {
            $this->scene('sale-'.$language, 'vanished parked', self::all(self::page('more.test', "<h1>more.test</h1><p>{$words}</p>")));
        }
        $this->scene('default-iis', 'vanished parked', self::all(self::page('IIS Windows Server', '<img src=iisstart.png>')));
        $this->scene(
            'default-site',
            'vanished parked',
            self::all(self::page(
                'Default Web Site Page',
                '<h1>Sorry!</h1><p>If you are the owner of this website, please contact your hosting provider.</p>',
            )),
        );
        $this->scene(
            'unpaid',
            'vanished parked',
            self::all(self::page('Website disabled', '<h1>This website has been disabled</h1><p>Please contact billing.</p>')),
        );

        $this->scene(
            'refresh-field',
            'moved redirect',
            static fn (Request $r): Response => self::PATH === $r->path
                ? Response::html('<p>One moment')->with('Refresh', '0; url=/new/held')
                : ('/new/held' === $r->path ? Response::html(Articles::page('news', 'en', 121)->html) : self::notFound()),
        );
        $this->scene(
            'to-other-host',
            'moved redirect',
            static fn (Request $r): Response => self::PATH === $r->path
                ? Response::redirect('http://elsewhere.more.test/archive/held', 308)
                : self::notFound(),
        );
        $this->scene(
            'notice-replaced',
            'changed content',
            self::lone(self::page(
                'News of the quay',
                '<h1>Regatta on Sunday</h1><p>Boats of all classes race from noon, with music and fried fish at the quay.</p>',
            )),
            held: self::page('Pier closed', '<h1>Pier closed</h1><p>Pier two is shut for repairs until May. Travellers use pier four.</p>'),
        );
        $this->scene(
            'article-replaced',
            'changed content',
            self::lone(Articles::page('long', 'en', 122)->html),
            held: Articles::page('minutes', 'en', 123)->html,
        );

        foreach ([
            'fr' => ['Vie privée', 'Nous respectons votre vie privée', 'Nous et nos partenaires utilisons des cookies.', 'Tout accepter'],
            'it' => ['Privacy', 'La tua privacy', 'Noi e i nostri partner usiamo cookie per la pubblicità.', 'Accetta tutto'],
            'el' => ['Απόρρητο', 'Το απόρρητό σας', 'Εμείς και οι συνεργάτες μας χρησιμοποιούμε cookies.', 'Αποδοχή όλων'],
            'ja' => ['プライバシー', 'プライバシーについて', '当サイトはCookieを使用します。同意してください。', '同意する'],
        ] as $language => [$title, $head, $words, $button]) {
            $this->scene(
                'wall-'.$language,
                'blocked consent',
                self::all(self::page($title, "<h1>{$head}</h1><p>{$words}</p><button>{$button}</button>")),
            );
        }
        $this->scene(
            'login-fr',
            'blocked login',
            self::all(self::page(
                'Connexion',
                '<h1>Connexion</h1><form><label>Identifiant <input></label><label>Mot de passe <input type=password></label><button>Se'
                    .' connecter</button></form>',
            )),
        );
        $this->scene(
            'login-el',
            'blocked login',
            self::all(self::page(
                'Σύνδεση',
                '<h1>Σύνδεση</h1><form><label>Όνομα <input></label><label>Κωδικός <input'
                    .' type=password></label><button>Είσοδος</button></form>',
            )),
        );
        $this->scene(
            'login-usual',
            'blocked login',
            static fn (Request $r): Response => '/login.php' === $r->path
                ? Response::html(self::page(
                    'Log In',
                    '<form><label>Username or Email Address <input></label><label>Password <input type=password></label><button>Log'
                        .' In</button></form>',
                ))
                : Response::redirect('/login.php?redirect_to='.rawurlencode($r->path), 302),
        );
        $this->scene(
            'members-only',
            'blocked login',
            self::lone(self::page('Minutes', $nav.'<h1>Minutes of the club</h1><p>This content is for members only.</p>')),
        );
        $this->scene(
            'free-articles-read',
            'blocked login',
            self::lone(self::page(
                'Held in port',
                '<h1>Held in port</h1><p>The ferry was held in port on Monday when inspectors measured the water behind her stern door,'
                    .' and the office would not say for how long.</p><div><p>You have read all your free articles this month. Subscribe'
                        .' for full access.</p></div>',
            )),
        );
        $this->scene(
            'person-de',
            'blocked challenge',
            static fn (): Response => Response::html(
                self::page('Sicherheitsprüfung', '<p>Bist du ein Mensch? Bitte löse das Captcha.</p>'), 403,
            ),
        );
        $this->scene('country', 'blocked legal', static fn (): Response => Response::html('<h1>451</h1>', 451));
        $this->scene('method', 'blocked forbidden', static fn (): Response => Response::html('<h1>Access denied</h1>', 403));

        $this->scene('no-content', 'unreachable bad-response', static fn (): Response => new Response(204, [], ''));
        $this->scene('blank', 'unreachable bad-response', static fn (): Response => Response::html("\n  \n"));
        $this->scene(
            'chunk-cut',
            'unreachable bad-response',
            static fn (): Response => Response::html(Articles::page('news', 'en', 131)->html)->chunked()->cutAt(900),
        );
        $this->scene(
            'error-520',
            'unreachable server-error',
            static fn (): Response => Response::html('<h1>Web server is returning an unknown error</h1>', 520),
        );
        $this->scene(
            'loop-with-hosts',
            'unreachable redirect-loop',
            static fn (Request $r): Response => Response::redirect(
                'http://'.('loop-with-hosts.more.test' === $r->host ? 'loop-with-hosts-b' : 'loop-with-hosts').'.more.test/', 302,
            ),
        );
        $this->scene(
            'loop-with-hosts-b',
            'unreachable redirect-loop',
            static fn (): Response => Response::redirect('http://loop-with-hosts.more.test/', 302),
        );
        $this->scene('lapsed', 'unreachable tls', static fn (): Response => Response::html('<p>x'), scheme: 'https');
    }
}
