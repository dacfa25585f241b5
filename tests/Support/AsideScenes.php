<?php

declare(strict_types=1);

namespace Ypomna\Tests\Support;

use Ypomna\Standin\Web\Request;
use Ypomna\Standin\Web\Response;
use Ypomna\Tests\Support\Edited\Articles;

/** Scenes by which no rule was made: they tell how verdicts do on what is new to them. */
final class AsideScenes extends SceneSite
{
    protected function domain(): string
    {
        return 'aside.test';
    }

    protected function fill(): void
    {
        $frame = static fn (string $title, string $body): string => self::page(
            $title.' | Sound Radio',
            '<header><a href=/>Sound Radio</a><form><input name=q placeholder=Search></form><nav><a href=/on>On air</a><a'
                .' href=/pod>Listen again</a><a href=/us>Who we are</a></nav></header>'
                .$body.'<footer><p>Sound Radio, 12 Mast Lane, Hollin Quay. You hear us on 98.4 from here to the outer isles.</p></footer>',
        );

        $this->scene(
            'programme',
            'alive ok',
            static fn (Request $r): Response => Response::html($frame(
                self::PATH === $r->path ? 'Tide tables at six' : 'Nothing on air here',
                self::PATH === $r->path
                    ? '<h1>Tide tables at six</h1><p>Every morning with Ana Brook.</p>'
                    : '<h1>Nothing on air here</h1><p>Pick a programme above.</p>',
            )),
        );
        $this->scene(
            'gone-by-name',
            'alive ok',
            self::lone($frame(
                'Gone with the tide', '<h1>Gone with the tide</h1><p>A play in three parts about a boat that was never found.</p>',
            )),
        );
        $this->scene(
            'lost-and-found',
            'alive ok',
            self::lone($frame(
                'Lost and not found',
                '<h1>Lost and not found</h1><p>A blue coat, two umbrellas and a cello case wait at the ticket window of Porth Merrow.</p>',
            )),
        );
        $this->scene(
            'error-in-print',
            'alive ok',
            self::lone($frame(
                'Error in the June issue',
                '<h1>Error in the June issue</h1><p>On page 404 of the almanac the second high water of 12 June is wrong: it comes at'
                    .' 18:52.</p>',
            )),
        );
        $this->scene(
            'removed-bench',
            'alive ok',
            self::lone($frame(
                'The bench was removed',
                '<h1>The bench at the lighthouse was removed</h1><p>The council took it away in April, since its wood was rotten. A new'
                    .' one of oak comes in autumn, with the old plate.</p>',
            )),
        );
        $this->scene(
            'price-list',
            'alive ok',
            self::lone($frame(
                'Berth prices',
                '<h1>Berth prices</h1><table><tr><td>up to 8 m<td>14<tr><td>up to 12 m<td>21<tr><td>above<td>on request</table>',
            )),
        );
        $this->scene(
            'obituary',
            'alive ok',
            self::lone($frame('Oren Salt, 1931–2024', '<h1>Oren Salt</h1><p>He is no longer with us. He built 41 boats.</p>')),
        );
        $this->scene(
            'house-for-sale',
            'alive ok',
            self::lone($frame(
                'House for sale at the quay',
                '<h1>House for sale at the quay</h1><p>Four rooms, slate roof, a shed for a dinghy. The house is for sale as it stands;'
                    .' write to the office.</p>',
            )),
        );
        $this->scene(
            'site-under-work',
            'alive ok',
            self::lone($frame(
                'Pier under construction',
                '<h1>Pier under construction</h1><p>The new pier is 210 metres long and opens in May; until then boats use the old'
                    .' steps.</p>',
            )),
        );
        $this->scene(
            'letter-in-lt',
            'alive ok',
            self::lone(self::page(
                'Keltas nekursuoja',
                '<h1>Keltas nekursuoja</h1><p>Keltas stovi uoste, nes prateka durys. Bendrovė praneša, kad reisai bus atnaujinti po'
                    .' dviejų savaičių.</p>',
            )),
        );
        $this->scene(
            'quiz',
            'alive ok',
            self::lone($frame(
                'Are you a sailor?',
                '<h1>Are you a sailor?</h1><p>Ten questions about knots, lights and rules of the road.</p><button>Begin</button>',
            )),
        );
        $this->scene(
            'terms',
            'alive ok',
            self::lone($frame(
                'Privacy',
                '<h1>Privacy</h1>'
                    .str_repeat(
                        '<p>We keep the letters that listeners send us for one year and then burn them in the stove of the studio, all'
                            .' but those that were read on air, which stay in a folder as long as the station lives.</p>',
                        4,
                    ),
            )),
        );
        $this->scene(
            'two-words',
            'alive ok',
            static fn (Request $r): Response => Response::html(self::page(
                'Harbour',
                self::PATH === $r->path
                    ? '<h1>Berth seven</h1><p>Taken until Friday by the Merrow Queen.</p>'
                    : '<h1>Harbour</h1><p>No berth has that name.</p>',
            )),
        );

        foreach ([
            'hr' => ['Pogreška', 'Stranica nije pronađena', 'Tražena stranica ne postoji.'],
            'bg' => ['Грешка', 'Страницата не е намерена', 'Тази страница вече не съществува.'],
            'sk' => ['Chyba', 'Stránka sa nenašla', 'Požadovaná stránka neexistuje.'],
            'id' => ['Galat', 'Halaman tidak ditemukan', 'Halaman yang Anda cari tidak ada.'],
            'ca' => ['Error', 'No s’ha trobat la pàgina', 'La pàgina que busqueu ja no existeix.'],
            'en' => ['404', '404', 'We looked everywhere.'],
            'en2' => ['Sound Radio', 'We can’t find that page', 'It may have sailed.'],
        ] as $language => [$title, $head, $words]) {
            $this->scene(
                'lost-'.$language,
                'vanished soft-404',
                self::lone(self::page($title, "<nav><a href=/>×</a></nav><h1>{$head}</h1><p>{$words}</p>")),
            );
            $this->scene(
                'lost-everywhere-'.$language,
                'vanished soft-404',
                self::all(self::page($title, "<nav><a href=/>×</a></nav><h1>{$head}</h1><p>{$words}</p>")),
            );
        }
        $this->scene(
            'lost-eu',
            'vanished soft-404',
            self::all(self::page('Errorea', '<h1>Orria ez da aurkitu</h1><p>Bilatzen duzun orria ez da existitzen.</p>')),
        );
        $this->scene(
            'episode-removed',
            'vanished soft-404',
            self::lone($frame('Listen again', '<h1>This episode is no longer available</h1><p>Episodes can be heard for thirty days.</p>')),
        );
        $this->scene(
            'deleted-by-author',
            'vanished soft-404',
            self::lone($frame('Post', '<h1>Post</h1><p>This post was deleted by the author.</p>')),
            held: Articles::page('forum', 'en', 201)->html,
        );
        $this->scene(
            'calendar-of-nothing',
            'vanished soft-404',
            self::all($frame('On air', '<h1>On air now</h1><p>Music until the news at noon.</p>')),
        );
        $this->scene(
            'answers-with-home',
            'vanished soft-404',
            self::all(Articles::page('front', 'de', 202)->html),
            held: Articles::page('news', 'de', 203)->html,
        );
        $this->scene(
            'to-root-of-www',
            'vanished home-redirect',
            static fn (Request $r): Response => '/' === $r->path
                ? Response::html(Articles::page('front', 'el', 204)->html)
                : Response::redirect('https://www.to-root-of-www.aside.test/', 301),
        );
        $this->scene(
            'www.to-root-of-www', 'alive ok', static fn (): Response => Response::html(Articles::page('front', 'el', 204)->html), '/',
        );
        $this->scene(
            'lapsed-name-de',
            'vanished parked',
            self::all(self::page('aside.test', '<p>Diese Domain wurde geparkt. Hier entsteht eine neue Präsenz.</p>')),
        );
        $this->scene(
            'offer',
            'vanished parked',
            self::all(self::page('aside.test is for sale', '<h1>aside.test</h1><p>Make an offer on this domain</p><button>Offer</button>')),
        );
        $this->scene(
            'hosting-ended',
            'vanished parked',
            self::all(self::page('Suspended', '<h1>This site has been suspended</h1><p>Please talk to support.</p>')),
        );
        $this->scene('gone-410', 'vanished gone', static fn (): Response => Response::html($frame('Gone', '<p>Gone.</p>'), 410));

        $this->scene('renamed', 'moved redirect', static fn (Request $r): Response => match ($r->path) {
            self::PATH => Response::redirect('/archive/2024/held-in-port/', 301),
            '/archive/2024/held-in-port/' => Response::html(Articles::page('minutes', 'en', 211)->html),
            default => self::notFound(),
        }, held: Articles::page('minutes', 'en', 211)->html);
        $this->scene(
            'rewritten',
            'changed content',
            self::lone(Articles::page('letter', 'el', 212)->html),
            held: Articles::page('notice', 'el', 213)->html,
        );
        $this->scene(
            'shop-now',
            'changed content',
            self::lone(Articles::page('products', 'en', 214)->html),
            held: Articles::page('long', 'en', 215)->html,
        );
        $this->scene(
            'grown',
            'alive ok',
            self::lone(str_replace(
                '</article>',
                '<p>'.str_repeat('Later on the board asked for the log of the ship, which was given to it in December. ', 12)
                    .'</p></article>',
                Articles::page('semantic', 'en', 216)->html,
            )),
            held: Articles::page('semantic', 'en', 216)->html,
        );

        $this->scene(
            'pay-or-agree',
            'blocked consent',
            self::all(self::page(
                'Sound Radio',
                '<h1>Read on with advertising or without</h1><p>With your consent we and our partners store cookies to show you'
                    .' advertising. Or subscribe for 2 a month.</p><button>Agree and read on</button><button>Subscribe</button>',
            )),
        );
        $this->scene(
            'log-in-pt',
            'blocked login',
            self::all(self::page(
                'Entrar',
                '<h1>Entrar</h1><form><label>Nome <input></label><label>Senha <input type=password></label><button>Entrar</button></form>',
            )),
        );
        $this->scene(
            'registered-only',
            'blocked login',
            self::lone($frame('Board', '<h1>Board</h1><p>Only registered users can see this thread.</p>')),
        );
        $this->scene(
            'riddle',
            'blocked challenge',
            static fn (): Response => Response::html(
                self::page('One more step', '<p>Please complete the security check to go on.</p>'), 429,
            ),
        );
        $this->scene(
            'blocked-403',
            'blocked forbidden',
            static fn (): Response => Response::html(
                self::page('Access denied', '<h1>Access denied</h1><p>Your address is not allowed.</p>'), 403,
            ),
        );
        $this->scene(
            'maintenance',
            'unreachable server-error',
            static fn (): Response => Response::html($frame('Back soon', '<p>We are back at noon.</p>'), 503)->with('Retry-After', '3600'),
        );
        $this->scene(
            'half',
            'unreachable bad-response',
            static fn (): Response => Response::html(Articles::page('news', 'en', 221)->html)->cutAt(1_200),
        );
    }
}
