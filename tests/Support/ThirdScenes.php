<?php

declare(strict_types=1);

namespace Ypomna\Tests\Support;

use Ypomna\Standin\Web\Request;
use Ypomna\Standin\Web\Response;

/** A third set written by hand, after the second had been mended by: pages as larger houses have them, with all that stands around. */
final class ThirdScenes extends SceneSite
{
    protected const PATH = '/en/articles/skerry-light-2019';

    private const STORY = [
        'The keeper of Skerry Light wrote into her book each evening what she had seen, and for nineteen years she had seen the same'
            .' three boats.',
        'On 2 March 2019 she wrote of a fourth one, which came without lamps from the north and lay below the cliff until it was dark.',
        'Two days later men of the harbour board asked for the book. She gave them the one of the year before.',
        'The book of 2019 is in the care of a notary. He lets nobody read it, and tells everybody that it is there.',
    ];

    protected function domain(): string
    {
        return 'third.test';
    }

    protected function fill(): void
    {
        $story = '<p>'.implode('</p><p>', self::STORY).'</p>';
        $full = self::frame('Skerry Light', '<article><h1>Skerry Light</h1><p class=by>By Ana Brook</p>'.$story.'</article>');
        $held = self::page('Skerry Light', '<h1>Skerry Light</h1>'.$story);

        $this->scene('whole', 'alive ok', self::lone($full));
        $this->scene('whole-held', 'alive ok', self::lone($full), held: $held);
        $this->scene(
            'whole-with-dialog',
            'alive ok',
            self::lone(str_replace(
                '<article>',
                '<dialog open><p>We would like to store cookies. <button>Accept all</button> <button>Only what is'
                    .' needed</button></p></dialog><article>',
                $full,
            )),
        );
        $this->scene(
            'whole-with-sign-in-menu',
            'alive ok',
            self::lone(str_replace(
                '<article>',
                '<div class=menu><a href=/login>Sign in</a><a href=/join>Subscribe to read everything</a></div><article>',
                $full,
            )),
        );
        $this->scene(
            'whole-with-half-a-wall',
            'alive ok',
            self::lone(str_replace('</article>', '<p>You have 3 free articles left this month.</p></article>', $full)),
        );
        $this->scene(
            'search-form-only-page',
            'alive ok',
            static fn (Request $r): Response => '/find' === $r->path
                ? Response::html(self::page('Find a ship', '<h1>Find a ship</h1><form><input name=q><button>Find</button></form>'))
                : self::notFound(),
            '/find',
        );
        $this->scene(
            'report-removed-from-shelf',
            'alive ok',
            self::lone(self::frame(
                'Why we took down our Skerry page',
                '<article><h1>Why we took down our Skerry page</h1><p>Last week we removed a page about Skerry Light. Readers have asked'
                    .' why, and they have a right to know.</p><p>The page named a person who had no part in what it told. We checked too'
                        .' little, and too late. When she wrote to us, we took it down within the hour.</p><p>We will tell the story'
                            .' again once we know it. Until then its old address says that it is gone, and this page says why. A print'
                                .' of the old page lies with our ombudsman, where it can be read by whoever was named in it.</p></article>',
            )),
        );
        $this->scene(
            'error-catalogue',
            'alive ok',
            self::lone(self::frame(
                'What our messages mean',
                '<h1>What our messages mean</h1><dl><dt>Page not found<dd>The address has a slip in it, or we have moved the page. Look'
                    .' at the archive.<dt>Access denied<dd>The page is for staff of the harbours.<dt>Too many requests<dd>Wait for a'
                        .' minute.</dl><p>If another message comes, tell us the number under it and the hour at which you saw it, and we'
                            .' will look it up in our own books.</p>',
            )),
        );
        $this->scene(
            'gone-fishing',
            'alive ok',
            self::lone(self::frame(
                'Gone fishing',
                '<h1>Gone fishing</h1><p>The office is shut until the 14th. Letters are answered after that, in the order in which they'
                    .' came.</p>',
            )),
        );
        $this->scene(
            'sale-of-the-lighthouse',
            'alive ok',
            self::lone(self::frame(
                'Skerry Light is for sale',
                '<h1>Skerry Light is for sale</h1><p>Nine rooms on six floors, no neighbours. Offers to the board until June.</p>',
            )),
        );
        $this->scene(
            'domain-news',
            'alive ok',
            self::lone(self::frame(
                'Our new domain',
                '<h1>Our new domain</h1><p>From May on you find us at skerry.example. The old domain expires in December; please change'
                    .' your bookmarks before that.</p><p>Letters to the old name still reach us.</p>',
            )),
        );
        $this->scene(
            'suspended-service',
            'alive ok',
            self::lone(self::frame(
                'Ferry suspended',
                '<h1>Ferry suspended</h1><p>The service to Skerry is suspended until the wind drops. Tickets stay good.</p>',
            )),
        );
        $this->scene(
            'pt-alive',
            'alive ok',
            self::lone(self::page(
                'O farol',
                '<h1>O farol fechou</h1><p>O farol está fechado até maio. A página das marés não é afetada e pode ser lida todos os'
                    .' dias.</p>',
            )),
        );
        $this->scene(
            'fr-alive',
            'alive ok',
            self::lone(self::page(
                'Objet introuvable ?',
                '<h1>Un objet perdu à bord ?</h1><p>Les objets trouvés sont gardés un mois au bureau du quai. Décrivez le vôtre par'
                    .' lettre ou venez le chercher avec une pièce d’identité, du lundi au vendredi.</p>',
            )),
        );
        $this->scene(
            'many-pages-alike',
            'alive ok',
            static fn (Request $r): Response => Response::html(self::frame(
                'Tide table',
                '<h1>Tide table</h1>'
                    .(self::PATH === $r->path ? '<table><tr><td>Skerry<td>06:12<td>18:40<tr><td>Torr<td>06:31<td>18:58<tr><td>Hollin<td>'
                        .'06:50<td>19:20</table>' : '<p>Choose a port.</p>'),
            )),
        );

        foreach ([
            'a' => '<h1>404</h1><h2>Page not found</h2><p>The page you tried to reach is not here. It may have been moved, renamed, or'
                .' it may never have been.</p><form><input name=q placeholder="Search our site"></form>',
            'b' => '<h2>This article is no longer available</h2><p>Our licence for it has ended.</p>',
            'c' => '<h1>Oh buoy!</h1><p>We couldn’t find what you were after.</p>',
            'd' => '<p class=err>Error: item does not exist.</p>',
            'e' => '<h1>Content removed</h1><p>This content was removed because it broke our rules.</p>',
            'f' => '<h1>Seite nicht verfügbar</h1><p>Der Inhalt wurde vom Verfasser zurückgezogen.</p>',
            'g' => '<h1>L’annonce a expiré</h1><p>Cette annonce n’est plus en ligne.</p>',
            'h' => '<h1>Esta página no existe</h1><p>Puede que el enlace esté roto.</p>', 'i' => '<h1>Questa pagina non esiste più</h1>',
            'j' => '<h1>Страница удалена</h1><p>Либо её никогда не было.</p>', 'k' => '<h1>Η σελίδα αφαιρέθηκε</h1>',
            'l' => '<h1>指定されたページは存在しません</h1>', 'm' => '<h1>您要找的页面已删除</h1>',
        ] as $name => $body) {
            $this->scene('told-'.$name, 'vanished soft-404', self::lone(self::frame('Skerry House', $body)));
            $this->scene('told-of-held-'.$name, 'vanished soft-404', self::lone(self::frame('Skerry House', $body)), held: $held);
        }
        $this->scene(
            'front-instead',
            'vanished soft-404',
            self::all(self::frame(
                'Skerry House',
                '<h1>Skerry House</h1><p>Books, papers and pictures of the northern Sound.</p><ul><li>New: letters of the'
                    .' keepers<li>Open days in June</ul>',
            )),
        );
        $this->scene(
            'front-instead-held',
            'vanished soft-404',
            self::all(self::frame('Skerry House', '<h1>Skerry House</h1><p>Books, papers and pictures of the northern Sound.</p>')),
            held: $held,
        );
        $this->scene(
            'to-root',
            'vanished home-redirect',
            static fn (Request $r): Response => '/' === $r->path
                ? Response::html(self::frame('Skerry House', '<h1>Skerry House</h1>'))
                : Response::redirect('/', 301),
            held: $held,
        );
        $this->scene(
            'to-language-root',
            'vanished home-redirect',
            static fn (Request $r): Response => '/en' === $r->path
                ? Response::html(self::frame('Skerry House', '<h1>Skerry House</h1>'))
                : Response::redirect('/en', 302),
        );
        $this->scene(
            'to-shelf',
            'vanished soft-404',
            static fn (Request $r): Response => '/en/articles/' === $r->path
                ? Response::html(self::frame('Articles', '<h1>Articles</h1><ul><li>Letters<li>Lamps</ul>'))
                : Response::redirect('/en/articles/', 302),
        );
        $this->scene(
            'another-owner',
            'vanished soft-404',
            self::all(self::page('Win now', '<h1>Win now</h1><p>The best tables of the year, chosen by people who play.</p>')),
            held: $held,
        );
        foreach ([
            'a' => '<p>third.test is for sale. Contact the owner.</p>',
            'b' => '<h1>Domain parked</h1>',
            'c' => '<p>This site is not configured yet.</p>',
            'd' => '<h1>Account suspended</h1>',
            'e' => '<h1>Dieser Webspace ist noch leer</h1><p>Hier entsteht bald eine Website.</p>',
            'f' => '<p>The domain third.test has expired. Renew it now.</p>',
            'g' => '<h1>Hello! This server is running.</h1><p>This is the default page.</p>',
        ] as $name => $body) {
            $this->scene('void-'.$name, 'vanished parked', self::all(self::page('third.test', $body)));
        }

        $begun = self::frame('Skerry Light', '<article><h1>Skerry Light</h1><p>'.self::STORY[0].'</p>%s</article>');
        foreach ([
            'a' => '<div class=pw><p>To read on you need a subscription.</p><a href=/sub>Subscribe</a></div>',
            'b' => '<div><h3>Register for free to continue reading</h3></div>',
            'c' => '<p>Lesen Sie diesen Artikel mit einem Abo weiter</p>',
            'd' => '<p>La suite est réservée à nos abonnés.</p>',
            'e' => '<div>Already a member? Log in to read the full story.</div>',
        ] as $name => $gate) {
            $this->scene('gate-'.$name, 'blocked login', self::lone(\sprintf($begun, $gate)));
        }
        $this->scene(
            'gate-held', 'blocked login', self::lone(\sprintf($begun, '<p>Subscribe to read the whole article.</p>')), held: $held,
        );
        $this->scene(
            'basic', 'blocked login', static fn (): Response => new Response(401, [['WWW-Authenticate', 'Basic realm="Skerry"']], ''),
        );
        $this->scene(
            'sso',
            'blocked login',
            static fn (Request $r): Response => '/sso' === $r->path
                ? Response::html(self::page(
                    'Skerry account',
                    '<h1>Skerry account</h1><form><input type=email><input type=password><button>Continue</button></form>',
                ))
                : Response::redirect('/sso?to='.rawurlencode($r->path), 303),
        );
        $this->scene(
            'puzzle',
            'blocked challenge',
            static fn (): Response => Response::html(
                '<html><head><title>third.test</title></head><body><div id="challenge-stage"></div><p>Please wait while we verify your'
                    .' browser.</p><script src="/challenge.js"></script></body></html>',
                503,
            ),
        );
        $this->scene(
            'puzzle-200',
            'blocked challenge',
            self::all(
                '<html><head><title>Human check</title></head><body><p>Drag the boat into the harbour to show that you are'
                    .' human.</p><div class="captcha-box"></div></body></html>',
            ),
        );
        $this->scene(
            'wall',
            'blocked consent',
            self::all(self::page(
                'Skerry House',
                '<h2>Before you read on</h2><p>We and our 41 partners would like to use cookies and similar means to show you'
                    .' advertising.</p><button>Agree</button><button>More choices</button>',
            )),
        );
        $this->scene(
            'wall-held',
            'blocked consent',
            self::all(self::page(
                'Skerry House',
                '<h2>Before you read on</h2><p>We and our 41 partners would like to use cookies and similar means to show you'
                    .' advertising.</p><button>Agree</button><button>More choices</button>',
            )),
            held: $held,
        );
        $this->scene(
            'denied', 'blocked forbidden', static fn (): Response => Response::html('<h1>Access denied</h1><p>Reference 18.2f</p>', 403),
        );

        $this->scene('new-shelf', 'moved redirect', static fn (Request $r): Response => match ($r->path) {
            self::PATH => Response::redirect('/stories/skerry-light', 301), '/stories/skerry-light' => Response::html($full),
            default => self::notFound(),
        }, held: $held);
        $this->scene('new-shelf-unheld', 'moved redirect', static fn (Request $r): Response => match ($r->path) {
            self::PATH => Response::redirect('/stories/skerry-light', 301), '/stories/skerry-light' => Response::html($full),
            default => self::notFound(),
        });
        $this->scene(
            'other-story',
            'changed content',
            self::lone(self::frame(
                'Lamps',
                '<article><h1>Lamps of the north</h1><p>Nine lamps burn between Torr and Skerry. Each has its own beat, and whoever grew'
                    .' up there can tell them by counting.</p><p>The oldest is that of Hollin, which was lit with peat until 1871. Its'
                        .' keeper was paid in meal.</p></article>',
            )),
            held: $held,
        );
        $this->scene('slow', 'unreachable timeout', static fn (): Response => Response::html($full)->after(60.0));
        $this->scene('teapot-down', 'unreachable server-error', static fn (): Response => Response::html($full, 500), held: $held);
        $this->scene('broken-off', 'unreachable bad-response', static fn (): Response => Response::html($full)->cutAt(700), held: $held);
    }

    private static function frame(string $title, string $body): string
    {
        return self::page(
            $title.' | Skerry House',
            '<header><a href=/>Skerry House</a><nav><ul><li><a href=/en/articles/>Articles</a><li><a'
                .' href=/en/pictures/>Pictures</a><li><a href=/en/house/>The house</a><li><a'
                    .' href=/en/join/>Join</a></ul></nav></header><main>'
                .$body
                .'</main><aside><h3>From the shelves</h3><ul><li><a href=/1>Letters of the keepers</a><li><a href=/2>How to read a'
                    .' chart</a><li><a href=/3>The year of the fog</a></ul></aside><footer><p>Skerry House keeps what was written about'
                        .' the northern Sound. Open on weekdays from ten to four.</p><p><a href=/imprint>Imprint</a> <a'
                            .' href=/privacy>Privacy</a></p></footer>',
        );
    }
}
