<?php

declare(strict_types=1);

namespace Ypomna\Tests\Support;

use Ypomna\Standin\Web\Lapses;
use Ypomna\Standin\Web\Request;
use Ypomna\Standin\Web\Response;
use Ypomna\Standin\Web\Site;
use Ypomna\Tests\Support\Edited\Articles;

/**
 * A hundred things that servers do with an address, a host for each; with the verdict that a reader would give, and where it is
 * held, the page as it was. Hosts are `NAME.scenes.test`.
 */
class SceneSite implements Lapses, Site
{
    /** @var string */
    protected const PATH = '/2024/11/held';
    private const HELPERS = ['elsewhere', 'accounts', 'consent'];

    /** @var array<string, Scene> */
    private array $scenes = [];

    public function __construct()
    {
        $this->fill();
    }

    /** What all hosts end in. */
    protected function domain(): string
    {
        return 'scenes.test';
    }

    protected function fill(): void
    {
        $this->alive();
        $this->aliveThoughItLooksOtherwise();
        $this->vanishedByWords();
        $this->vanishedByManner();
        $this->parked();
        $this->moved();
        $this->blocked();
        $this->unreachable();
    }

    /**
     * @return array<string, Scene>
     */
    public function scenes(): array
    {
        return $this->scenes;
    }

    public function hosts(\DateTimeImmutable $now): array
    {
        return array_map(
            fn (string $name): string => $name.'.'.$this->domain(),
            [
                ...array_values(array_filter(
                    array_map(strval(...), array_keys($this->scenes)), fn (string $name): bool => null !== $this->scenes[$name]->act,
                )),
                ...self::HELPERS,
            ],
        );
    }

    public function lapsed(\DateTimeImmutable $now): array
    {
        return ['lapsed.'.$this->domain()];
    }

    public function answer(Request $request): Response
    {
        $name = substr($request->host, 0, -1 - \strlen($this->domain()));
        $act = ($this->scenes[$name] ?? null)?->act;

        return null === $act ? $this->help($name, $request) : $act($request);
    }

    private function help(string $name, Request $request): Response
    {
        return match (true) {
            'accounts' === $name => Response::html(self::page(
                'Sign in',
                '<h1>Sign in to go on</h1><form><label>E-mail <input type=email></label><label>Password <input'
                    .' type=password></label><button>Sign in</button></form>',
            )),
            'consent' === $name => Response::html(self::page(
                'Before you go on',
                '<h1>Before you go on</h1><p>We and 214 partners store cookies on your device to show advertising that fits'
                    .' you.</p><button>Reject all</button><button>Accept all</button>',
            )),
            '/' === $request->path => Response::html(Articles::page('front', 'en', 12)->html),
            '/search' === $request->path => Response::html(self::page(
                'Search', '<h1>Search</h1><form><input name=q></form><p>Nothing matches. Try other words.</p>',
            )),
            default => Response::html(Articles::page('notice', 'en', 31)->html),
        };
    }

    private function alive(): void
    {
        foreach ([
            'en' => 'news', 'de' => 'notice', 'el' => 'blog', 'ja' => 'oldTables', 'ru' => 'divs', 'ar' => 'semantic',
        ] as $language => $kind) {
            $html = Articles::page($kind, $language, 41)->html;
            $this->scene(
                'article-'.$language,
                'alive ok',
                static fn (Request $r): Response => self::PATH === $r->path ? Response::html($html) : self::notFound(),
            );
            $this->scene(
                'article-held-'.$language,
                'alive ok',
                static fn (Request $r): Response => self::PATH === $r->path ? Response::html($html) : self::notFound(),
                held: $html,
            );
        }
        $html = Articles::page('news', 'en', 42)->html;
        $this->scene(
            'edited',
            'alive ok',
            static fn (): Response => Response::html(str_replace(
                '<p class=byline>', '<p>Corrected on 3 December: the depth was fourteen centimetres.</p><p class=byline>', $html,
            )),
            held: $html,
        );
        $this->scene(
            'to-https',
            'alive ok',
            static fn (Request $r): Response => !$r->tls
                ? Response::redirect('https://to-https.scenes.test'.$r->path)
                : (self::PATH === $r->path ? Response::html($html) : self::notFound()),
        );
        $this->scene('slash', 'alive ok', static fn (Request $r): Response => match ($r->path) {
            self::PATH.'/' => Response::html($html), self::PATH => Response::redirect($r->path.'/', 308), default => self::notFound(),
        });
        $this->scene(
            'cookie-test',
            'alive ok',
            static fn (Request $r): Response => str_contains($r->head->fields->get('Cookie') ?? '', 'seen=1')
                ? (self::PATH === $r->path ? Response::html($html) : self::notFound())
                : Response::redirect($r->path, 302)->with('Set-Cookie', 'seen=1; Path=/'),
        );
        $this->scene(
            'packed',
            'alive ok',
            static fn (Request $r): Response => self::PATH === $r->path ? Response::html($html)->gzip()->chunked() : self::notFound(),
        );
        $this->scene(
            'greek-old',
            'alive ok',
            static fn (Request $r): Response => self::PATH !== $r->path
                ? self::notFound()
                : Response::html(
                    (string) mb_convert_encoding(
                        str_replace('utf-8', 'windows-1253', Articles::page('notice', 'el', 43)->html), 'ISO-8859-7', 'UTF-8',
                    ),
                    200,
                    'windows-1253',
                ),
        );
        $this->scene(
            'a-file',
            'alive ok',
            static fn (Request $r): Response => '/report.pdf' === $r->path
                ? Response::of('application/pdf', "%PDF-1.4\n%âãÏÓ\n1 0 obj\n<<>>\nendobj\n%%EOF\n")
                : self::notFound(),
            '/report.pdf',
        );
        $this->scene(
            'plain-text',
            'alive ok',
            static fn (Request $r): Response => '/log.txt' === $r->path
                ? Response::of('text/plain; charset=utf-8', "Log of the Petrel Dawn\n\n12 May: nothing was found.\n")
                : self::notFound(),
            '/log.txt',
        );
        $this->scene('front', 'alive ok', static fn (): Response => Response::html(Articles::page('front', 'en', 44)->html), '/');
        $this->scene(
            'a-timetable',
            'alive ok',
            static fn (Request $r): Response => '/timetable' === $r->path
                ? Response::html(Articles::page('timetable', 'en', 45)->html)
                : self::notFound(),
            '/timetable',
        );
        $this->scene(
            'contact',
            'alive ok',
            static fn (Request $r): Response => '/contact' === $r->path
                ? Response::html(Articles::page('contact', 'en', 46)->html)
                : self::notFound(),
            '/contact',
        );
        $this->scene(
            'pictures',
            'alive ok',
            static fn (Request $r): Response => '/pictures' === $r->path
                ? Response::html(Articles::page('gallery', 'en', 47)->html)
                : self::notFound(),
            '/pictures',
        );
        $this->scene(
            'a-folder',
            'alive ok',
            static fn (Request $r): Response => '/files/' === $r->path
                ? Response::html(
                    '<html><head><title>Index of /files</title></head><body><h1>Index of /files</h1><pre><a href="../">Parent'
                        .' Directory</a>\n<a href="log-2024.txt">log-2024.txt</a> 2024-11-03 10:20 4.1K\n<a href="seal.pdf">seal.pdf</a>'
                            .' 2024-11-04 11:00 120K</pre></body></html>',
                )
                : self::notFound(),
            '/files/',
        );
    }

    private function aliveThoughItLooksOtherwise(): void
    {
        $long = static fn (string $about): string => '<article><h1>'.$about.'</h1>'
            .str_repeat(
                '<p>'.$about
                    .', wrote the Lantern, is what readers of old reports meet again and again: the address is there, the words are not,'
                        .' and nobody at the office can say who took them down or when that was decided. In a count of last year a third'
                            .' of all footnotes led nowhere.</p>',
                5,
            )
            .'</article>';
        $of = static fn (string $html): \Closure => static fn (Request $r): Response => self::PATH === $r->path
            ? Response::html($html)
            : self::notFound();
        $this->scene(
            'about-dead-links', 'alive ok', $of(self::page('Page not found: how reports rot', $long('This page could not be found'))),
        );
        $this->scene(
            'about-removals', 'alive ok', $of(self::page('This article has been removed', $long('This article has been removed'))),
        );
        $this->scene('about-names-for-sale', 'alive ok', $of(self::page('This domain is for sale', $long('This domain is for sale'))));
        $this->scene(
            'with-sign-in',
            'alive ok',
            $of(str_replace(
                '<body>',
                '<body><form class=top><input name=u><input type=password name=p><button>Sign in</button></form>',
                Articles::page('news', 'en', 51)->html,
            )),
        );
        $this->scene(
            'with-consent-banner',
            'alive ok',
            $of(str_replace(
                '<body>',
                '<body><div class=cookie-banner><p>We and our partners use cookies. Choose what you agree to.</p><button>Accept'
                    .' all</button><button>Reject</button></div>',
                Articles::page('news', 'en', 52)->html,
            )),
        );
        $this->scene(
            'with-subscription-box',
            'alive ok',
            $of(str_replace(
                '</article>',
                '</article><aside><h2>Subscribe to the Lantern</h2><p>Support us and read without limits.</p><a'
                    .' href=/subscribe>Subscribe now</a></aside>',
                Articles::page('news', 'en', 53)->html,
            )),
        );
        $this->scene(
            'forum-about-404',
            'alive ok',
            $of(self::page(
                'Page not found on the timetable? – Tidewatch',
                '<h1>Page not found on the timetable?</h1><div class=post><p>Since this morning I get a 404 on the winter timetable, has'
                    .' anybody got it still? The boat at 06:10 is what I need.</p></div><div class=post><p>Same here. I wrote down the'
                        .' crossings before they took it away: 06:10, 09:40, 13:15 and 17:50, on Sundays not the first'
                            .' one.</p></div><div class=post><p>Thank you! The office says it comes back on Monday, with other'
                                .' prices.</p></div>',
            )),
        );
        $menu = '<nav><ul>'
            .implode(
                '',
                array_map(
                    static fn (int $n): string => "<li><a href=/m/{$n}>Service number {$n} of the harbour office</a></li>", range(1, 40),
                ),
            )
            .'</ul></nav>';
        $foot = '<footer><p>'
            .str_repeat('The harbour office is open on working days from eight to four, at weekends from nine to noon. ', 4)
            .'</p></footer>';
        // Little of its own among much that every page has, and errors that come with 200.
        $this->scene(
            'little-of-its-own',
            'alive ok',
            static fn (Request $r): Response => Response::html(self::page(
                'Harbour office',
                $menu
                    .(self::PATH === $r->path ? '<main><h1>Berth 4</h1><p>Berth 4 is closed to yachts in winter.</p></main>'
                        : '<main><h1>Harbour office</h1><p>We have no page by that name.</p></main>')
                    .$foot,
            )),
        );
        $this->scene(
            'little-of-its-own-el',
            'alive ok',
            static fn (Request $r): Response => Response::html(self::page(
                'Λιμεναρχείο',
                $menu
                    .(self::PATH === $r->path ? '<main><h1>Θέση 4</h1><p>Η θέση 4 είναι κλειστή για σκάφη τον χειμώνα.</p></main>'
                        : '<main><h1>Λιμεναρχείο</h1><p>Ουδέν εδώ.</p></main>')
                    .$foot,
            )),
        );
        $this->scene(
            'any-last-part',
            'alive ok',
            static fn (Request $r): Response => str_starts_with($r->path, '/story/118/')
                ? Response::html(Articles::page('blog', 'en', 54)->html)
                : self::notFound(),
            '/story/118/held-in-port',
        );
        $this->scene(
            'says-the-same-to-all-but-held',
            'alive ok',
            static fn (): Response => Response::html(Articles::page('notice', 'de', 55)->html),
            held: Articles::page('notice', 'de', 55)->html,
        );
        $this->scene(
            'discontinued-product',
            'alive ok',
            $of(self::page(
                'Stern seal 400',
                '<main><h1>Stern seal 400</h1><p>This product is no longer available. The seal 500 takes its place.</p><h2>What it was</h2>'
                    .str_repeat(
                        '<p>The seal 400 closed stern doors of up to six metres; it was pressed on by springs of steel and had to be'
                            .' looked after every ninety days, as the sheet says, and replaced after three years of service.</p>',
                        5,
                    )
                    .'</main>',
            )),
            held: self::page(
                'Stern seal 400',
                '<main><h1>Stern seal 400</h1>'
                    .str_repeat(
                        '<p>The seal 400 closed stern doors of up to six metres; it was pressed on by springs of steel and had to be'
                            .' looked after every ninety days, as the sheet says, and replaced after three years of service.</p>',
                        5,
                    )
                    .'</main>',
            ),
        );
        $this->scene(
            'short-notice',
            'alive ok',
            $of(self::page('Pier closed', '<h1>Pier closed</h1><p>The pier is closed for repairs until 4 May.</p>')),
        );
        $this->scene(
            'short-notice-fr',
            'alive ok',
            $of(self::page('Quai fermé', '<h1>Quai fermé</h1><p>Le quai numéro trois est fermé pour travaux jusqu’au 4 mai.</p>')),
        );
        $this->scene(
            'turns-around',
            'alive ok',
            static fn (Request $r): Response => Response::html(self::page(
                'Lantern',
                (self::PATH === $r->path ? '<h1>Gale warning</h1><p>Ships stay in port tonight, says the watch at Porth'
                    .' Merrow.</p>' : '<h1>Not here</h1><p>No story has that address.</p>')
                    .'<h2>Read also</h2><ul>'
                    .implode(
                        '',
                        array_map(
                            static fn (): string => '<li>'.Articles::page('news', 'en', random_int(1, 9_999))->title.'</li>',
                            range(1, 8),
                        ),
                    )
                    .'</ul>',
            )),
        );
    }

    private function vanishedByWords(): void
    {
        $says = [
            'en' => [
                'Lantern', 'Sorry, this page is no longer available', 'The story that you are looking for may have been moved or deleted.',
            ],
            'en-2' => ['Oops', 'Oops! That page can’t be found.', 'It looks like nothing was found at this location. Maybe try a search?'],
            'de' => ['Fehler', 'Seite nicht gefunden', 'Die angeforderte Seite existiert nicht oder wurde verschoben.'],
            'fr' => ['Erreur', 'Page introuvable', 'La page que vous cherchez n’existe pas ou a été déplacée.'],
            'es' => ['Error', 'Página no encontrada', 'Lo sentimos, la página que busca no existe.'],
            'it' => ['Errore', 'Pagina non trovata', 'La pagina richiesta non esiste o è stata rimossa.'],
            'nl' => ['Fout', 'Pagina niet gevonden', 'De pagina die u zoekt bestaat niet meer.'],
            'sv' => ['Fel', 'Sidan kunde inte hittas', 'Sidan du söker finns inte längre kvar.'],
            'pl' => ['Błąd', 'Nie znaleziono strony', 'Strona, której szukasz, nie istnieje.'],
            'pt' => ['Erro', 'Página não encontrada', 'A página que procura não existe ou foi removida.'],
            'el' => ['Σφάλμα', 'Η σελίδα δεν βρέθηκε', 'Η σελίδα που αναζητάτε δεν υπάρχει πλέον.'],
            'ru' => ['Ошибка', 'Страница не найдена', 'Запрашиваемая страница не существует или была удалена.'],
            'tr' => ['Hata', 'Sayfa bulunamadı', 'Aradığınız sayfa mevcut değil veya kaldırılmış.'],
            'ja' => ['エラー', 'ページが見つかりません', 'お探しのページは存在しないか、移動した可能性があります。'],
            'zh' => ['错误', '页面不存在', '您访问的页面已被删除或不存在。'], 'ko' => ['오류', '페이지를 찾을 수 없습니다', '요청하신 페이지가 존재하지 않습니다.'],
            'ar' => ['خطأ', 'الصفحة غير موجودة', 'عذراً، الصفحة التي تبحث عنها غير موجودة.'],
            'he' => ['שגיאה', 'הדף לא נמצא', 'הדף שביקשת אינו קיים.'],
        ];
        foreach ($says as $language => [$title, $head, $words]) {
            $this->scene(
                'says-gone-'.$language,
                'vanished soft-404',
                static fn (): Response => Response::html(self::page($title, "<nav><a href=/>⌂</a></nav><h1>{$head}</h1><p>{$words}</p>")),
            );
        }
        $related = '<h2>More from the Lantern</h2>'
            .str_repeat(
                '<article><h3><a href=/x>Ferry sails again after the repair of her door</a></h3><p>The boat was seen at the quay this'
                    .' morning with all her flags, and the band played for those who had waited since six.</p></article>',
                9,
            );
        $held = Articles::page('news', 'en', 61)->html;
        // What stood there alone is gone: other pages of the site are there.
        $lone = static fn (string $html): \Closure => static fn (Request $r): Response => self::PATH === $r->path
            ? Response::html($html)
            : self::notFound();
        $this->scene(
            'removed-among-others',
            'vanished soft-404',
            $lone(self::page('Lantern', '<h1>This article has been removed</h1>'.$related)),
            held: $held,
        );
        $this->scene(
            'removed-at-request',
            'vanished soft-404',
            $lone(self::page(
                'Held in port | Lantern', '<h1>Held in port</h1><p>This article was removed at the request of a person named in it.</p>',
            )),
            held: $held,
        );
        $this->scene(
            'thread-deleted',
            'vanished soft-404',
            $lone(self::page('Tidewatch', '<h1>Tidewatch</h1><p>This thread has been deleted by its author.</p>')),
        );
        $this->scene(
            'withdrawn-de',
            'vanished soft-404',
            $lone(self::page('Meldung', '<h1>Meldung</h1><p>Dieser Beitrag ist nicht mehr verfügbar.</p>')),
        );
        $this->scene(
            'video-gone',
            'vanished soft-404',
            $lone(self::page('Player', '<h1>Video unavailable</h1><p>This video has been removed by the uploader.</p>')),
        );
    }

    private function vanishedByManner(): void
    {
        $this->scene('not-found', 'vanished not-found', static fn (): Response => self::notFound());
        $this->scene('not-found-bare', 'vanished not-found', static fn (): Response => Response::html('', 404));
        $this->scene(
            'not-found-with-much',
            'vanished not-found',
            static fn (): Response => Response::html(Articles::page('front', 'en', 71)->html, 404),
        );
        $this->scene('gone', 'vanished gone', static fn (): Response => Response::html('<h1>Gone</h1>', 410));
        $this->scene('no-host', 'vanished no-host');
        $this->scene(
            'leads-to-no-host', 'vanished no-host', static fn (): Response => Response::redirect('http://nowhere-at-all.scenes.test/x'),
        );
        $this->scene(
            'moved-then-gone',
            'vanished not-found',
            static fn (Request $r): Response => '/new' === $r->path ? self::notFound() : Response::redirect('/new'),
        );
        $front = Articles::page('front', 'en', 72)->html;
        $this->scene(
            'to-front',
            'vanished home-redirect',
            static fn (Request $r): Response => '/' === $r->path ? Response::html($front) : Response::redirect('/', 302),
        );
        $this->scene(
            'to-front-file',
            'vanished home-redirect',
            static fn (Request $r): Response => '/index.php' === $r->path ? Response::html($front) : Response::redirect('/index.php', 302),
        );
        $this->scene(
            'to-front-told',
            'vanished home-redirect',
            static fn (Request $r): Response => '/' === $r->path ? Response::html($front) : Response::redirect('/?from=missing', 302),
        );
        $this->scene(
            'to-front-language',
            'vanished home-redirect',
            static fn (Request $r): Response => '/en/' === $r->path ? Response::html($front) : Response::redirect('/en/', 302),
        );
        $this->scene(
            'to-front-elsewhere',
            'vanished home-redirect',
            static fn (): Response => Response::redirect('http://elsewhere.scenes.test/'),
            held: Articles::page('news', 'en', 73)->html,
        );
        $this->scene(
            'to-front-by-the-page',
            'vanished home-redirect',
            static fn (Request $r): Response => '/' === $r->path
                ? Response::html($front)
                : Response::html('<meta http-equiv=refresh content="0; url=/"><p>One moment'),
        );
        $this->scene('front-in-place', 'vanished soft-404', static fn (): Response => Response::html($front));
        $this->scene(
            'to-error-page',
            'vanished soft-404',
            static fn (Request $r): Response => '/errors/404.html' === $r->path
                ? Response::html(self::page('Lantern', '<p>Here is what others read today.</p>'))
                : Response::redirect('/errors/404.html', 302),
        );
        $this->scene(
            'to-error-page-fr',
            'vanished soft-404',
            static fn (Request $r): Response => '/introuvable' === $r->path
                ? Response::html(self::page('Le Phare', '<p>Voici ce que d’autres lisent.</p>'))
                : Response::redirect('/introuvable?de='.rawurlencode($r->path), 302),
        );
        $this->scene(
            'all-to-one',
            'vanished soft-404',
            static fn (Request $r): Response => '/welcome-to-our-new-site' === $r->path
                ? Response::html(self::page(
                    'Board',
                    '<h1>A new look</h1><p>'
                        .str_repeat('We have put things in another order and hope that you like it as much as we do. ', 20).'</p>',
                ))
                : Response::redirect('/welcome-to-our-new-site'),
        );
        $this->scene(
            'to-section',
            'vanished soft-404',
            static fn (Request $r): Response => '/news/' === $r->path
                ? Response::html(Articles::page('tags', 'en', 74)->html)
                : Response::redirect('/news/', 302),
        );
        $this->scene(
            'to-search',
            'vanished soft-404',
            static fn (Request $r): Response => '/search' === $r->path
                ? Response::html(self::page(
                    'Search', '<h1>Search</h1><p>Your search for “'.htmlspecialchars($r->query).'” found nothing. Try other words.</p>',
                ))
                : Response::redirect('/search?q='.rawurlencode(basename($r->path)), 302),
        );
        $this->scene(
            'unknown-words',
            'vanished soft-404',
            static fn (Request $r): Response => Response::html(self::page(
                'Vel', '<h1>Kesra</h1><p>Qua nen tibo '.htmlspecialchars($r->path).' kessa muno velta ore sin daba.</p>',
            )),
        );
        $this->scene(
            'unknown-words-turning',
            'vanished soft-404',
            static fn (Request $r): Response => Response::html(self::page(
                'Vel',
                '<h1>Kesra</h1><p>Qua nen tibo kessa muno velta ore sin daba.</p><h2>Velo</h2><ul>'
                    .implode(
                        '',
                        array_map(
                            static fn (): string => '<li>'.Articles::page('news', 'en', random_int(1, 9_999))->title.'</li>',
                            range(1, 8),
                        ),
                    )
                    .'</ul>',
            )),
        );
        $this->scene(
            'echoes-the-name',
            'vanished soft-404',
            static fn (Request $r): Response => Response::html(self::page(
                ucfirst(basename($r->path)).' – Vel', '<h1>'.ucfirst(basename($r->path)).'</h1><p>Tibo nen kessa velta.</p>',
            )),
        );
        $this->scene(
            'moved-things-around',
            'vanished soft-404',
            static fn (): Response => Response::html(self::page(
                'Harbour Board',
                '<h1>Harbour Board</h1><p>Welcome to our new site. We have moved things around: use the menu to find what you'
                    .' need.</p>',
            )),
            held: Articles::page('minutes', 'en', 75)->html,
        );
    }

    private function parked(): void
    {
        $parked = [
            'for-sale' => [
                'lantern',
                '<h1>lantern.scenes.test</h1><p>This domain may be for sale. Inquire now.</p><ul><li><a href=/1>Ferry tickets</a><li><a'
                    .' href=/2>Insurance</a></ul>',
            ],
            'for-sale-de' => ['Domain', '<h1>Diese Domain steht zum Verkauf</h1><p>Jetzt Angebot abgeben.</p>'],
            'for-sale-fr' => ['Domaine', '<h1>Ce nom de domaine est à vendre</h1><p>Faites une offre.</p>'],
            'for-sale-es' => ['Dominio', '<h1>Este dominio está en venta</h1>'],
            'for-sale-ja' => ['ドメイン', '<p>このドメインは販売中です。お問い合わせください。</p>'],
            'links-only' => [
                'scenes',
                '<p>Related searches</p><ul><li><a href=/1>Ferry Crossing Deals</a><li><a href=/2>Cheap Cruises</a><li><a href=/3>Boat'
                    .' Insurance</a></ul><p>Sponsored listings</p>',
            ],
            'expired' => ['Expired', '<p>The domain name has expired. If you are its owner, renew it with your provider.</p>'],
            'suspended' => [
                'Account Suspended', '<h1>Account Suspended</h1><p>This account has been suspended. Contact your hosting provider.</p>',
            ],
            'server-default' => [
                'Welcome to nginx!',
                '<h1>Welcome to nginx!</h1><p>If you see this page, the nginx web server is successfully installed and working. Further'
                    .' configuration is required.</p>',
            ],
            'server-default-2' => [
                'Apache2 Debian Default Page: It works',
                '<h1>It works!</h1><p>This is the default welcome page used to test the correct operation of the Apache2 server after'
                    .' installation on Debian systems.</p>',
            ],
            'coming-soon' => ['Coming soon', '<h1>Website coming soon</h1><p>We are working on it.</p>'],
        ];
        foreach ($parked as $name => [$title, $body]) {
            $this->scene('parked-'.$name, 'vanished parked', static fn (): Response => Response::html(self::page($title, $body)));
        }
        $this->scene(
            'parked-lander',
            'vanished parked',
            static fn (Request $r): Response => '/lander' === $r->path
                ? Response::html(self::page('scenes.test', '<h1>scenes.test</h1><p>Buy this domain.</p>'))
                : Response::redirect('/lander', 302),
        );
    }

    private function moved(): void
    {
        $html = Articles::page('news', 'en', 81)->html;
        $this->scene(
            'moved',
            'moved redirect',
            static fn (Request $r): Response => '/stories/held-in-port' === $r->path
                ? Response::html($html)
                : (self::PATH === $r->path ? Response::redirect('/stories/held-in-port') : self::notFound()),
        );
        $this->scene(
            'moved-held',
            'moved redirect',
            static fn (Request $r): Response => '/stories/held-in-port' === $r->path
                ? Response::html($html)
                : (self::PATH === $r->path ? Response::redirect('/stories/held-in-port') : self::notFound()),
            held: $html,
        );
        $this->scene(
            'moved-host',
            'moved redirect',
            static fn (Request $r): Response => self::PATH === $r->path
                ? Response::redirect('http://elsewhere.scenes.test'.$r->path)
                : self::notFound(),
        );
        $this->scene(
            'moved-by-the-page',
            'moved redirect',
            static fn (Request $r): Response => self::PATH === $r->path
                ? Response::html('<meta http-equiv="refresh" content="3;URL=\'/stories/held\'"><p>We have moved.')
                : ('/stories/held' === $r->path ? Response::html($html) : self::notFound()),
        );
        $this->scene('moved-thrice', 'moved redirect', static fn (Request $r): Response => match ($r->path) {
            self::PATH => Response::redirect('/a', 302), '/a' => Response::redirect('/b', 303), '/b' => Response::redirect('/c', 307),
            '/c' => Response::html($html), default => self::notFound(),
        });
        $this->scene(
            'moved-to-number',
            'moved redirect',
            static fn (Request $r): Response => '/' === $r->path && 'p=118' === $r->query
                ? Response::html($html)
                : (self::PATH === $r->path ? Response::redirect('/?p=118', 302) : self::notFound()),
        );
        $this->scene(
            'moved-to-front-but-held',
            'moved redirect',
            static fn (Request $r): Response => '/' === $r->path ? Response::html($html) : Response::redirect('/', 302),
            held: $html,
        );
        $this->scene(
            'changed',
            'changed content',
            static fn (Request $r): Response => self::PATH === $r->path
                ? Response::html(Articles::page('notice', 'en', 82)->html)
                : self::notFound(),
            held: $html,
        );
        $this->scene(
            'changed-language',
            'changed content',
            static fn (Request $r): Response => self::PATH === $r->path
                ? Response::html(Articles::page('blog', 'de', 83)->html)
                : self::notFound(),
            held: $html,
        );
        $this->scene(
            'page-for-file',
            'changed content',
            static fn (Request $r): Response => '/report.pdf' === $r->path ? Response::html($html) : self::notFound(),
            '/report.pdf',
        );
    }

    private function blocked(): void
    {
        $this->scene(
            'login-401',
            'blocked login',
            static fn (): Response => Response::html('<h1>Authorization required</h1>', 401)->with('WWW-Authenticate', 'Basic realm="x"'),
        );
        $this->scene(
            'login-elsewhere',
            'blocked login',
            static fn (Request $r): Response => Response::redirect(
                'http://accounts.scenes.test/signin?continue='.rawurlencode($r->path), 302,
            ),
        );
        $this->scene(
            'login-in-place',
            'blocked login',
            static fn (): Response => Response::html(self::page(
                'Tidewatch',
                '<h1>Tidewatch</h1><p>You must be logged in to read this board.</p><form><input name=user><input type=password'
                    .' name=pass><button>Log in</button></form>',
            )),
        );
        $this->scene(
            'login-de',
            'blocked login',
            static fn (): Response => Response::html(self::page(
                'Anmelden',
                '<h1>Anmelden</h1><form><label>Benutzername <input></label><label>Passwort <input'
                    .' type=password></label><button>Anmelden</button></form>',
            )),
        );
        $this->scene(
            'paywall',
            'blocked login',
            static fn (Request $r): Response => self::PATH === $r->path
                ? Response::html(self::page(
                    'Held in port | Lantern',
                    '<h1>Held in port</h1><p>The ferry was held in port on Monday when inspectors measured the water behind her'
                        .' door.</p><div class=paywall><h2>Subscribe to continue reading</h2><p>Already a subscriber? Sign in.</p></div>',
                ))
                : self::notFound(),
        );
        $this->scene(
            'forbidden',
            'blocked forbidden',
            static fn (): Response => Response::html('<h1>403 Forbidden</h1><p>You do not have permission.</p>', 403),
        );
        $this->scene('legal', 'blocked legal', static fn (): Response => Response::html('<h1>Unavailable</h1>', 451));
        $this->scene(
            'rate-limit',
            'blocked rate-limit',
            static fn (): Response => Response::html('<h1>Too many requests</h1>', 429)->with('Retry-After', '30'),
        );
        $this->scene(
            'challenge',
            'blocked challenge',
            static fn (): Response => Response::html(
                self::page(
                    'Just a moment...',
                    '<h1>Checking your browser</h1><p>Verify that you are human by completing the action below.</p><noscript>Enable'
                        .' JavaScript and cookies to continue</noscript>',
                ),
                403,
            ),
        );
        $this->scene(
            'challenge-503',
            'blocked challenge',
            static fn (): Response => Response::html(
                self::page(
                    'Security check', '<p>Please stand by while we check your browser. Enable JavaScript and cookies to continue.</p>',
                ),
                503,
            ),
        );
        $this->scene(
            'challenge-200',
            'blocked challenge',
            static fn (): Response => Response::html(self::page(
                'Are you a robot?', '<p>Please complete the captcha to show that you are not a robot.</p><div class=captcha></div>',
            )),
        );
        $this->scene(
            'consent-elsewhere',
            'blocked consent',
            static fn (Request $r): Response => Response::redirect('http://consent.scenes.test/ask?continue='.rawurlencode($r->path), 302),
        );
        $this->scene(
            'consent-in-place',
            'blocked consent',
            static fn (): Response => Response::html(self::page(
                'Your privacy',
                '<h1>We value your privacy</h1><p>We and our partners use cookies to store and read information on a'
                    .' device.</p><button>Accept all</button><button>Manage settings</button>',
            )),
        );
        $this->scene(
            'consent-de',
            'blocked consent',
            static fn (): Response => Response::html(self::page(
                'Zustimmung',
                '<h1>Ihre Privatsphäre</h1><p>Wir und unsere Partner verwenden Cookies. Lesen Sie mit Werbung weiter oder im'
                    .' Abo.</p><button>Alle akzeptieren</button><button>Einstellungen</button>',
            )),
        );
    }

    private function unreachable(): void
    {
        foreach ([500, 502, 503, 504] as $status) {
            $this->scene(
                'error-'.$status,
                'unreachable server-error',
                static fn (): Response => Response::html('<h1>Error</h1><p>Not found in cache.</p>', $status),
            );
        }
        $this->scene('loop', 'unreachable redirect-loop', static fn (Request $r): Response => Response::redirect($r->path, 302));
        $this->scene(
            'loop-of-two',
            'unreachable redirect-loop',
            static fn (Request $r): Response => Response::redirect('/a' === $r->path ? '/b' : '/a', 302),
        );
        $this->scene(
            'no-end',
            'unreachable redirect-loop',
            static fn (Request $r): Response => Response::redirect('/'.(1 + (int) substr($r->path, 1)), 302),
        );
        $this->scene('empty', 'unreachable bad-response', static fn (): Response => Response::html(''));
        $this->scene('reset', 'unreachable bad-response', static fn (): Response => Response::html('<p>x')->cutAt(0, true));
        $this->scene(
            'cut', 'unreachable bad-response', static fn (): Response => Response::html(Articles::page('news', 'en', 91)->html)->cutAt(400),
        );
        $this->scene('garbage', 'unreachable bad-response', static fn (): Response => Response::raw("\x00\x01\x02 nothing\r\n\r\n"));
        $this->scene(
            'nowhere',
            'unreachable bad-response',
            static fn (): Response => Response::raw("HTTP/1.1 302 Found\r\nContent-Length: 0\r\n\r\n"),
        );
        $this->scene(
            'foreign-scheme', 'unreachable bad-response', static fn (): Response => Response::redirect('intent://x#Intent;end', 302),
        );
        $this->scene(
            'bad-packing',
            'unreachable bad-response',
            static fn (): Response => Response::html('this is not packed at all')->with('Content-Encoding', 'gzip'),
        );
        $this->scene('hangs', 'unreachable timeout', static fn (): Response => Response::html('<p>x')->after(90.0));
        $this->scene('lapsed', 'unreachable tls', static fn (): Response => Response::html('<p>x'), scheme: 'https');
    }

    /** @param (\Closure(Request): Response)|null $act null: the name has no address */
    protected function scene(
        string $name,
        string $expected,
        ?\Closure $act = null,
        ?string $path = null,
        ?string $held = null,
        string $scheme = 'http',
    ): void {
        $this->scenes[$name] = new Scene($expected, $scheme.'://'.$name.'.'.$this->domain().($path ?? static::PATH), $held, $act);
    }

    /** That page at the address that is asked for; nothing is at any other. */
    protected static function lone(string $html, ?string $path = null): \Closure
    {
        return static fn (Request $r): Response => ($path ?? static::PATH) === $r->path ? Response::html($html) : self::notFound();
    }

    /** That page, whatever is asked for. */
    protected static function all(string $html): \Closure
    {
        return static fn (): Response => Response::html($html);
    }

    protected static function page(string $title, string $body): string
    {
        return '<!doctype html><html><head><meta charset="utf-8"><title>'.htmlspecialchars($title).'</title></head><body>'.$body
            .'</body></html>';
    }

    protected static function notFound(): Response
    {
        return Response::html(self::page('Not found', '<h1>Not found</h1><p>There is no page here.</p>'), 404);
    }
}
