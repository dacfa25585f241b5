<?php

declare(strict_types=1);

namespace Ypomna\Tests\Support;

use Ypomna\Standin\Web\Request;
use Ypomna\Standin\Web\Response;

/** Scenes written by hand when the rules stood: pages as small sites have them, none of them made by the layouts of other tests. */
final class LateScenes extends SceneSite
{
    private const REPORT = '<p>On the night of 8 November the Petrel Dawn took in water through her stern door between Saltmarch and'
        .' Hollin Quay. Deck hand Ivo Marsh saw it first, at ten past four, when he went below for a coil of rope.</p><p>The master'
        .' turned back. At the quay the harbour engineer measured fourteen centimetres on the car deck and found the seal of the'
        .' door torn over a length of two metres.</p><p>“It had been reported in August,” says the engineer, who has kept a copy'
        .' of the report. The company answers that the seal was to be replaced in the winter, as planned, and that nobody'
        .' was in danger at any time.</p><p>The union of seamen asks for an inquiry by somebody who is not paid by the'
        .' company.</p>';

    protected function domain(): string
    {
        return 'late.test';
    }

    protected function fill(): void
    {
        $this->aliveAsTheyAre();
        $this->aliveThoughTheyStartle();
        $this->goneInManyTongues();
        $this->goneByLikeness();
        $this->goneButOffered();
        $this->namesWithoutSites();
        $this->elsewhereOrAnother();
        $this->behindSomething();
        $this->outOfReach();
    }

    private function aliveAsTheyAre(): void
    {
        $this->scene(
            'object',
            'alive ok',
            static fn (Request $r): Response => Response::html(self::museum(
                self::PATH === $r->path
                    ? '<h2>Stern lamp</h2><dl><dt>Number</dt><dd>1998.41</dd><dt>Made</dt><dd>about 1910, Porth'
                        .' Merrow</dd><dt>Brass, glass</dt><dd>41 cm</dd></dl>'
                    : '<h2>Catalogue</h2><p>Type a number or a word above.</p>',
            )),
        );
        $this->scene(
            'record-by-number',
            'alive ok',
            static fn (Request $r): Response => '/view.php' === $r->path
                ? Response::html(self::museum(
                    'id=118' === $r->query
                        ? '<h2>Oar, ash</h2><p>Given by the rowing club. Broken at the blade.</p>'
                        : '<h2>Nothing chosen</h2>',
                ))
                : self::notFound(),
            '/view.php?id=118',
        );
        $this->scene(
            'one-page-site',
            'alive ok',
            static fn (Request $r): Response => Response::html(
                self::PATH === $r->path
                    ? self::page('What Ivo saw', '<div id=app><div><div><h1>What Ivo saw</h1>'.self::REPORT.'</div></div></div>')
                    : self::page(
                        'Quay Weekly',
                        '<div id=app><ul><li><a href=/a>What Ivo saw</a><li><a href=/b>Herring is back</a><li><a href=/c>Choir seeks'
                            .' basses</a></ul></div>',
                    ),
            ),
        );
        $this->scene(
            'film',
            'alive ok',
            self::lone(self::page(
                'Herring boats, 1961 – Film store',
                '<video src=/f.mp4 controls></video><h1>Herring boats, 1961</h1><p>8 mm, no sound, 4 minutes.</p>',
            )),
        );
        $this->scene(
            'sea-map',
            'alive ok',
            self::lone(self::page('Chart 12', '<canvas id=chart width=1200 height=800></canvas><script src=/chart.js></script>')),
        );
        $this->scene(
            'nested-tables',
            'alive ok',
            self::lone(
                '<html><head><title>Knots</title></head><body bgcolor=#ffffcc><table width=760><tr><td width=140><font face=Arial'
                    .' size=2><a href=a.htm>Home</a><br><a href=b.htm>Ropes</a><br><a'
                        .' href=c.htm>Guests</a></font></td><td><table><tr><td><font size=5><b>The bowline</b></font><br><br><font'
                            .' size=2>Make a small eye. Bring the end up through it, round behind the standing part, and down through'
                                .' the eye again.<br><br>It does not slip and can be undone after a'
                                    .' load.</font></td></tr></table></td></tr></table></body></html>',
            ),
        );
        $this->scene(
            'notice-he',
            'alive ok',
            self::lone(
                '<html dir=rtl lang=he><meta charset=utf-8><title>המזח סגור</title><h1>המזח סגור</h1><p>המזח סגור לתיקונים עד ה־4 במאי.'
                    .' הסירות יוצאות מהמדרגות הישנות.</p></html>',
            ),
        );
        $this->scene(
            'undeclared',
            'alive ok',
            static fn (Request $r): Response => self::PATH === $r->path
                ? Response::of(
                    'text/html',
                    mb_convert_encoding(
                        '<title>Fährplan</title><h1>Fährplan für Österö</h1><p>Täglich außer dienstags um 6.40 und 15.05 Uhr. Fahrräder'
                            .' kosten drei Kronen.</p>',
                        'ISO-8859-1',
                        'UTF-8',
                    ),
                )
                : self::notFound(),
        );
        $this->scene(
            'strict-markup',
            'alive ok',
            static fn (Request $r): Response => self::PATH === $r->path
                ? Response::of(
                    'application/xhtml+xml',
                    '<?xml version="1.0" encoding="utf-8"?><!DOCTYPE html><html xmlns="http://www.w3.org/1999/xhtml"'
                        .' xml:lang="en"><head><title>Rules of the club</title></head><body><h1>Rules of the club</h1><ol><li>Boats are'
                            .' rinsed after use.</li><li>Nobody rows alone after dark.</li></ol></body></html>',
                )
                : self::notFound(),
        );
        $this->scene(
            'whole-way',
            'alive ok',
            static fn (Request $r): Response => $r->tls && str_starts_with($r->host, 'www.')
                ? ('/2024/11/held/' === $r->path ? Response::html(self::page(
                    'What Ivo saw', '<h1>What Ivo saw</h1>'.self::REPORT,
                )) : self::notFound())
                : Response::redirect('https://www.whole-way.late.test'.$r->path.'/', 301),
        );
        $this->scene(
            'www.whole-way',
            'alive ok',
            static fn (Request $r): Response => $r->tls
                ? ('/2024/11/held/' === $r->path ? Response::html(self::page(
                    'What Ivo saw', '<h1>What Ivo saw</h1>'.self::REPORT,
                )) : self::notFound())
                : Response::redirect('https://www.whole-way.late.test'.$r->path, 301),
            '/2024/11/held/',
        );
        $this->scene(
            'very-long',
            'alive ok',
            self::lone(self::page(
                'Register of ships',
                '<h1>Register of ships</h1><table>'
                    .str_repeat('<tr><td>Petrel Dawn<td>1998<td>Saltmarch<td>built of steel, two screws, one stern door', 2_000)
                    .'</table><!-- '.str_repeat('More of them follow. ', 500_000).' -->',
            )),
        );
        $this->scene(
            'reprinted',
            'alive ok',
            self::lone(self::page(
                'What Ivo saw | Quay Weekly',
                '<div class=c><div class=d><b>What Ivo saw</b><br>'.str_replace(['<p>', '</p>'], ['', '<br><br>'], self::REPORT)
                    .'</div></div>',
            )),
            held: self::page('Quay Weekly: What Ivo saw', '<table><tr><td>Menu<td><h2>What Ivo saw</h2>'.self::REPORT.'</table>'),
        );
        $this->scene(
            'corrected-above',
            'alive ok',
            self::lone(self::page(
                'What Ivo saw',
                '<h1>What Ivo saw</h1><p><i>Correction of 2 December: an earlier version of this report said that the torn part of the'
                    .' seal was four metres long. The engineer measured two. We also left out that the company had answered our'
                        .' questions before the report was printed; its answer now stands in the third paragraph. We are sorry for'
                            .' both.</i></p>'
                    .self::REPORT,
            )),
            held: self::page('What Ivo saw', '<h1>What Ivo saw</h1>'.self::REPORT),
        );
    }

    private function aliveThoughTheyStartle(): void
    {
        $this->scene(
            'manual',
            'alive ok',
            self::lone(self::page(
                'Error 404 – Winch manual',
                '<nav><a href=/m>Manual</a></nav><h1>Error 404: drum not found</h1><p>The winch has lost the signal of the drum. Switch'
                    .' it off, wait ten seconds and turn the drum by hand until the mark meets the notch. Switch on again.</p><p>If the'
                        .' error stays, the sensor is worn. It is part 61-B in the list; the drum has to come off for it, which takes'
                            .' two people and about an hour.</p>',
            )),
        );
        $this->scene(
            'over',
            'alive ok',
            self::lone(self::page(
                'Shanty evening',
                '<p class=note>This event has passed.</p><h1>Shanty evening</h1><p>Friday 4 October, 19:30, net loft of Porth Merrow.'
                    .' With the Hollin Quay choir and two accordions. Entry 6, children free.</p>',
            )),
        );
        $this->scene(
            'sold-out',
            'alive ok',
            self::lone(self::page(
                'Oilskin coat, yellow',
                '<h1>Oilskin coat, yellow</h1><p><b>Currently unavailable.</b> We do not know when it will be back.</p><p>Waxed cotton,'
                    .' sewn twice at the shoulders, with a hood that folds into the collar. Sizes from 36 to 52. Wash by hand, dry away'
                        .' from the stove. Made in Saltmarch by three people who have done it for thirty'
                            .' years.</p><table><tr><td>Weight<td>1.4 kg<tr><td>Colour<td>yellow</table>',
            )),
        );
        $this->scene(
            'closed-thread',
            'alive ok',
            self::lone(self::page(
                'Which paint for the keel? – Boat talk',
                '<h1>Which paint for the keel?</h1><p>This topic has been closed. New replies are no longer allowed.</p><div'
                    .' class=p><b>marram</b><p>Red lead or something newer? She lies in fresh water.</p></div><div'
                        .' class=p><b>old_tern</b><p>Anything but lead. I use the grey one of two parts and do it again each third'
                            .' spring.</p></div><div class=p><b>marram</b><p>Thanks, will do that.</p></div>',
            )),
        );
        $this->scene(
            'kept-for-the-record',
            'alive ok',
            self::lone(self::page(
                'Quota of 2014',
                '<div class=box>This page has been archived and is no longer updated.</div><h1>Quota of 2014</h1><p>Boats of the Sound'
                    .' landed 412 tonnes of herring, eleven less than the quota allowed. Mackerel was not fished for after'
                        .' June.</p><p>Boats under eight metres had no quota in that year.</p>',
            )),
        );
        $this->scene(
            'closed-on-mondays',
            'alive ok',
            self::lone(self::page(
                'Sorry, no boats on Mondays',
                '<h1>Sorry, no boats on Mondays</h1><p>From November to March. The post boat takes up to four people if you ask before'
                    .' nine.</p>',
            )),
        );
        $this->scene(
            'lost-cat',
            'alive ok',
            self::lone(self::page(
                'Missing',
                '<h1>Missing since Friday</h1><p>A grey cat, white at the tip of her tail, could not be found after the gale. She'
                    .' answers to Mo. Please look into your boat sheds.</p>',
            )),
        );
        $this->scene(
            'a-play',
            'alive ok',
            self::lone(self::page(
                'Nothing Found, a play',
                '<h1>Nothing Found</h1><p>A play by Maren Tarn in two acts. First given at the net loft on 3 May; the next evenings are'
                    .' 9, 10 and 16 May. An inspector comes to an island to look for a ship that everybody has seen and nobody'
                        .' remembers.</p><p>With Oda Fenn, Ruk Sallow and the sea.</p>',
            )),
        );
        $this->scene(
            'about-a-removal',
            'alive ok',
            self::lone(self::page(
                'Gemeinde löscht Seite über die Mole',
                '<article><h1>Gemeinde löscht Seite über die Mole</h1><p>„Diese Seite ist nicht mehr verfügbar“: Das lesen seit Montag'
                    .' alle, die auf der Seite der Gemeinde nach dem Gutachten über die Mole suchen. Die Gemeinde hat es'
                        .' gelöscht.</p><p>Der Bürgermeister sagt, das Gutachten sei veraltet und habe zu Missverständnissen geführt.'
                            .' Wer es lesen wolle, könne ins Amt kommen, dienstags von neun bis elf.</p><p>Zwei Mitglieder des Rates'
                                .' haben eine Kopie. Darin steht, dass die Pfähle unter dem Kopf der Mole so weit abgetragen sind, dass'
                                    .' sie nur noch ein Drittel der Last tragen, für die sie gesetzt wurden.</p><p>Die Mole wird weiter'
                                        .' von allen Booten benutzt.</p></article>',
            )),
        );
        $this->scene(
            'with-a-long-banner',
            'alive ok',
            self::lone(self::page(
                'What Ivo saw',
                '<div id=layer><h2>Your choice</h2><p>'
                    .str_repeat(
                        'We and our partners store cookies to measure how our pages are read and to show you advertising that fits you. ',
                        12,
                    )
                    .'</p><button>Accept</button><button>Refuse</button></div><h1>What Ivo saw</h1>'.self::REPORT,
            )),
        );
        $this->scene(
            'plea-at-its-end',
            'alive ok',
            self::lone(self::page(
                'What Ivo saw',
                '<h1>What Ivo saw</h1>'.self::REPORT.self::REPORT
                    .'<div><p>Subscribe to read more reports like this one.</p><form><input'
                        .' type=email><button>Subscribe</button></form></div>',
            )),
        );
        $this->scene(
            'for-sale-boats',
            'alive ok',
            self::lone(self::page(
                'Boats for sale',
                '<h1>Boats for sale</h1><ul><li>Dinghy, 3.4 m, oak, 900<li>Sloop Anna, 7 m, needs a mast, 4,200<li>The name Merrow Queen'
                    .' is for sale with her bell.</ul>',
            )),
        );
        $this->scene(
            'welcome-page',
            'alive ok',
            static fn (): Response => Response::html(self::page(
                'Welcome',
                '<h1>Welcome to Porth Merrow</h1><p>Three hundred people, two boats a day, one shop. Here is how to get here and'
                    .' what to see.</p>',
            )),
            '/',
        );
        $this->scene(
            'new-pier',
            'alive ok',
            self::lone(self::page(
                'Coming soon: the new pier',
                '<h1>Coming soon: the new pier</h1><p>In May it opens, with room for four boats. Until then the old steps have to do;'
                    .' mind the weed.</p>',
            )),
        );
    }

    private function goneInManyTongues(): void
    {
        foreach ([
            'is' => ['Villa', 'Síðan fannst ekki', 'Síðan sem þú leitar að er ekki til.'],
            'sq' => ['Gabim', 'Faqja nuk u gjet', 'Faqja që kërkoni nuk ekziston.'],
            'hy' => ['Սխալ', 'Էջը չի գտնվել', 'Ձեր փնտրած էջը գոյություն չունի։'],
            'ka' => ['შეცდომა', 'გვერდი ვერ მოიძებნა', 'მოთხოვნილი გვერდი არ არსებობს.'],
            'bn' => ['ত্রুটি', 'পাতাটি পাওয়া যায়নি', 'আপনি যে পাতাটি খুঁজছেন তা নেই।'],
            'sw' => ['Hitilafu', 'Ukurasa haukupatikana', 'Ukurasa unaotafuta haupo.'],
            'ga' => ['Earráid', 'Níor aimsíodh an leathanach', 'Níl an leathanach atá uait ann.'],
            'mk' => ['Грешка', 'Страницата не е пронајдена', 'Бараната страница не постои.'],
        ] as $language => [$title, $head, $words]) {
            $this->scene(
                'none-'.$language,
                'vanished soft-404',
                self::all(self::page($title, "<div><a href=/>×</a></div><h2>{$head}</h2><p>{$words}</p>")),
            );
        }
        foreach ([
            'de' => ['Küstenbote', 'Hoppla!', 'Diese Seite gibt es leider nicht (mehr).'],
            'fr' => ['Le Phare', 'Oups', 'La page demandée est introuvable ou a été supprimée.'],
            'en' => ['Quay Weekly', 'Well, this is awkward', 'The page you requested does not exist.'],
            'es' => ['El Faro', '¡Vaya!', 'Este contenido ya no está disponible.'],
            'el' => ['Ο Φάρος', 'Ωχ', 'Το άρθρο που ζητήσατε δεν είναι πλέον διαθέσιμο.'],
        ] as $language => [$title, $head, $words]) {
            $this->scene(
                'only-this-'.$language,
                'vanished soft-404',
                self::lone(self::page($title, "<nav><a href=/>Start</a></nav><h1>{$head}</h1><p>{$words}</p>")),
            );
        }
    }

    private function goneByLikeness(): void
    {
        $this->scene(
            'number-only',
            'vanished soft-404',
            self::all(self::page('Quay Weekly', '<nav><a href=/a>News</a><a href=/b>Tides</a></nav><h1>404</h1>')),
        );
        $this->scene(
            'numbered-answers',
            'vanished soft-404',
            static fn (): Response => Response::html(self::page(
                'Harbour',
                '<h1>We looked everywhere</h1><p>Tell us this number if you call: '.strtoupper(bin2hex(random_bytes(8))).'. It is '
                    .date('H:i:s').'.</p>',
            )),
        );
        $this->scene(
            'guesses',
            'vanished soft-404',
            static fn (Request $r): Response => Response::html(self::page(
                'Harbour',
                '<h1>Did you mean one of these?</h1><ul>'
                    .implode(
                        '',
                        array_map(
                            static fn (int $n): string => '<li>'
                                .[
                                    'Berths for guests', 'Tolls of the year', 'Tide tables', 'Lights and buoys', 'Slipway hours',
                                    'Ferry desk', 'Crane and lift', 'Lost property',
                                ][(crc32($r->path) + 3 * $n) % 8],
                            range(1, 5),
                        ),
                    )
                    .'</ul>',
            )),
        );
        $this->scene(
            'about-us-instead',
            'vanished soft-404',
            self::all(self::page(
                'Sound Freight',
                '<h1>Who we are</h1>'
                    .str_repeat(
                        '<p>Since 1931 our boats have carried coal, flour, sheep and pianos to all islands of the Sound, and whoever has'
                            .' waited at a pier in January knows what our horn sounds like. Today three ships sail under our flag.</p>',
                        5,
                    ),
            )),
        );
        $this->scene(
            'to-news-of-all',
            'vanished soft-404',
            static fn (Request $r): Response => '/aktuelles' === $r->path
                ? Response::html(self::page('Aktuelles', '<h1>Aktuelles</h1><ul><li>Neuer Kran<li>Heringsfest<li>Fahrplan</ul>'))
                : Response::redirect('/aktuelles', 302),
        );
        $this->scene(
            'to-blog-home',
            'vanished home-redirect',
            static fn (Request $r): Response => Response::redirect('http://host.to-blog-home.late.test/', 301),
        );
        $this->scene(
            'host.to-blog-home',
            'alive ok',
            static fn (): Response =>
                Response::html(self::page('Sound Freight', '<h1>Sound Freight</h1><p>Coal, flour, sheep and pianos.</p>')),
            '/',
        );
        $this->scene(
            'told-and-sent-on',
            'vanished home-redirect',
            static fn (Request $r): Response => '/' === $r->path
                ? Response::html(self::page('Harbour', '<h1>Harbour</h1><p>Berths, tides and tolls.</p>'))
                : Response::html(
                    '<meta http-equiv="Refresh" content="4; URL=http://told-and-sent-on.late.test/"><p>You are taken to our start page.',
                ),
        );
        $this->scene(
            'another-trade',
            'vanished soft-404',
            self::all(self::page(
                'Best slots 2026',
                '<h1>Best slots of 2026</h1>'
                    .str_repeat(
                        '<p>Spin, win and take home more than you came with: our list of rooms is brought up to date each day by people'
                            .' who play themselves.</p>',
                        6,
                    ),
            )),
            held: self::page('What Ivo saw', '<h1>What Ivo saw</h1>'.self::REPORT),
        );
        $this->scene(
            'error-told-in-a-frame-of-news',
            'vanished soft-404',
            self::lone(self::page(
                'Quay Weekly',
                '<h1>Page not found</h1><p>Read this instead:</p>'
                    .str_repeat(
                        '<article><h3>Herring is back</h3><p>Boats from three islands landed more in a night than in all of June, and'
                            .' the smokehouse has lit all its stoves again.</p></article>',
                        8,
                    ),
            )),
        );
    }

    private function goneButOffered(): void
    {
        $old = self::page(
            'Sloop Anna',
            '<h1>Sloop Anna, 7 m</h1><p>Built 1968, larch on oak. Needs a mast. Engine of 2009, eight horses. Lies at Hollin Quay and'
                .' can be seen any evening. The sails are with the sailmaker and belong to her.</p><p>4,200, or an offer.</p>',
        );
        $this->scene(
            'ended-offer',
            'vanished soft-404',
            self::lone(self::page(
                'Boat market',
                '<h1>This offer has ended</h1><p>See others like it:</p><ul><li><a href=/2>Dinghy, oak</a><li><a href=/3>Rowing'
                    .' boat</a></ul>',
            )),
            held: $old,
        );
        $this->scene(
            'no-such-member',
            'vanished soft-404',
            self::lone(self::page('Boat talk', '<h1>User not found</h1><p>The account may have been deleted or renamed.</p>')),
        );
        $this->scene(
            'picture-store',
            'vanished soft-404',
            self::lone(self::page('Picture store', '<p>The image you are requesting does not exist or is no longer available.</p>')),
        );
        $this->scene(
            'link-ran-out',
            'vanished soft-404',
            self::lone(self::page('Send it', '<h1>This link has expired</h1><p>Ask the sender for another one.</p>')),
        );
        $this->scene(
            'taken-down',
            'vanished soft-404',
            self::lone(self::page(
                'Küstenbote', '<h1>Küstenbote</h1><p>Dieser Artikel ist aus rechtlichen Gründen nicht mehr abrufbar.</p>',
            )),
            held: self::page('Was Ivo sah', '<h1>Was Ivo sah</h1>'.self::REPORT),
        );
        $this->scene(
            'unpublished',
            'vanished soft-404',
            self::lone(self::page(
                'Quay Weekly',
                '<h1>What Ivo saw</h1><p>We have taken this report offline while we look into a complaint about it. The editors.</p>',
            )),
            held: self::page('What Ivo saw', '<h1>What Ivo saw</h1>'.self::REPORT),
        );
        $this->scene(
            'gone-in-json',
            'vanished gone',
            static fn (): Response => new Response(410, [['Content-Type', 'application/json']], '{"error":"gone"}'),
        );
        $this->scene(
            'via-host-without-page',
            'vanished not-found',
            static fn (): Response => Response::redirect('http://elsewhere-404.late.test/x', 302),
        );
        $this->scene('elsewhere-404', 'vanished not-found', static fn (): Response => self::notFound());
    }

    private function namesWithoutSites(): void
    {
        foreach ([
            'pending' => ['Notice', '<p>NOTICE: This domain name expired on 4 March and is pending renewal or deletion.</p>'],
            'yours' => ['late.test', '<h2>late.test</h2><p>The owner of this domain has not yet uploaded a website.</p>'],
            'barred-de' => ['Gesperrt', '<h1>Diese Website wurde gesperrt</h1><p>Bitte wenden Sie sich an Ihren Anbieter.</p>'],
            'works' => [
                'Default page', '<h1>Your server works</h1><p>This is the default page of the server. Replace it with your own site.</p>',
            ],
            'bid' => [
                'late.test', '<h1>late.test</h1><p>This premium domain is available for purchase. Get a price in under 24 hours.</p>',
            ],
            'el' => ['late.test', '<h1>Το όνομα late.test πωλείται</h1>'],
            'adverts' => [
                'late.test',
                '<ul><li><a href=/1>Ferry Tickets</a><li><a href=/2>Boat Loans</a></ul><p>This page was generated by the parking service'
                    .' of the domain. The owner has no relation with the advertisers.</p>',
            ],
        ] as $name => [$title, $body]) {
            $this->scene('name-'.$name, 'vanished parked', self::all(self::page($title, $body)));
        }
        $this->scene('never-there', 'vanished no-host');
        $this->scene(
            'leads-nowhere',
            'vanished no-host',
            static fn (Request $r): Response => '/b' === $r->path
                ? Response::redirect('http://never-there.late.test/', 302)
                : Response::redirect('/b', 302),
        );
    }

    private function elsewhereOrAnother(): void
    {
        $new = self::page(
            'Quay Weekly · archive',
            '<div id=w><div class=m><a href=/>All years</a></div><section><h2>What Ivo saw</h2>'.self::REPORT.'</section></div>',
        );
        $this->scene(
            'in-the-archive',
            'moved redirect',
            static fn (): Response => Response::redirect('http://archive-of.late.test/q/118', 301),
            held: self::page('What Ivo saw', '<h1>What Ivo saw</h1>'.self::REPORT),
        );
        $this->scene(
            'archive-of',
            'alive ok',
            static fn (Request $r): Response => '/q/118' === $r->path ? Response::html($new) : self::notFound(),
            '/q/118',
        );
        $this->scene('became-a-file', 'moved redirect', static fn (Request $r): Response => match ($r->path) {
            self::PATH => Response::redirect('/files/report.pdf', 302),
            '/files/report.pdf' => Response::of('application/pdf', "%PDF-1.4\n1 0 obj\n<<>>\nendobj\n%%EOF\n"), default => self::notFound(),
        });
        $this->scene('said-and-sent', 'moved redirect', static fn (Request $r): Response => match ($r->path) {
            self::PATH => Response::html(self::page(
                'Moved',
                '<meta http-equiv=refresh content="10;url=../../reports/ivo.html"><p>This report now lives <a'
                    .' href=../../reports/ivo.html>here</a>.</p>',
            )),
            '/reports/ivo.html' => Response::html($new), default => self::notFound(),
        });
        $this->scene('new-name', 'moved redirect', static fn (): Response => Response::redirect('http://newer-name.late.test/', 301), '/');
        $this->scene(
            'newer-name',
            'alive ok',
            static fn (): Response =>
                Response::html(self::page('Sound Freight', '<h1>Sound Freight</h1><p>Coal, flour, sheep and pianos to all islands.</p>')),
            '/',
        );
        $this->scene('by-language', 'moved redirect', static fn (Request $r): Response => match ($r->path) {
            '/guide' => Response::redirect('/en/guide', 302),
            '/en/guide' => Response::html(self::page(
                'Guide',
                '<h1>Guide to the slipway</h1><p>Come at half tide. Let others pass. The crane is worked by the harbour alone.</p>',
            )),
            default => self::notFound(),
        }, '/guide');
        $this->scene(
            'range-of-goods',
            'changed content',
            self::lone(self::page(
                'Quay shop',
                '<h1>Our autumn range</h1><ul>'
                    .implode(
                        '',
                        array_map(
                            static fn (string $what): string => "<li><a href=/x>{$what}</a> from 12",
                            ['Lamps', 'Ropes', 'Oilskins', 'Boots', 'Mugs', 'Brass polish', 'Candles'],
                        ),
                    )
                    .'</ul>',
            )),
            held: self::page('What Ivo saw', '<h1>What Ivo saw</h1>'.self::REPORT),
        );
        $this->scene(
            'notice-ja',
            'changed content',
            self::lone(self::page('お知らせ', '<h1>夏祭りのお知らせ</h1><p>八月三日に港で夏祭りを開きます。屋台と花火があります。雨の日は公民館で行います。皆さまのお越しをお待ちしております。</p>')),
            held: self::page('お知らせ', '<h1>欠航のお知らせ</h1><p>船尾扉の点検のため、十一月九日から二週間、全便が欠航となります。払い戻しは窓口で受け付けています。ご不便をおかけします。</p>'),
        );
        $this->scene(
            'paper-became-page',
            'changed content',
            static fn (Request $r): Response => '/p/tolls.PDF' === $r->path
                ? Response::html(self::page(
                    'Tolls', '<h1>Tolls</h1><p>All tolls now stand on one page: up to 8 metres 14, up to 12 metres 21.</p>',
                ))
                : self::notFound(),
            '/p/tolls.PDF',
        );
    }

    private function behindSomething(): void
    {
        $begun = '<h1>Was Ivo sah</h1><p>In der Nacht zum 8. November lief Wasser durch das Hecktor der Petrel Dawn.</p>';
        foreach ([
            'de' => 'Weiterlesen mit Abo', 'fr' => 'Cet article est réservé aux abonnés',
            'el' => 'Το άρθρο είναι διαθέσιμο μόνο για συνδρομητές', 'es' => 'Suscríbete para seguir leyendo',
        ] as $language => $words) {
            $this->scene(
                'paid-'.$language,
                'blocked login',
                self::lone(self::page('Was Ivo sah', $begun."<div class=gate><h2>{$words}</h2><button>→</button></div>")),
            );
        }
        $this->scene(
            'one-account-for-all',
            'blocked login',
            static fn (): Response => Response::redirect('https://accounts.late.test/idp/profile/login?execution=e1s1', 302),
        );
        $this->scene(
            'staff',
            'blocked login',
            self::all(self::page(
                'Board',
                '<form method=post><p>User <input name=u><p>Password <input name=p type=password><p><input type=submit value="Sign'
                    .' in"></form>',
            )),
        );
        $this->scene(
            'wait-a-little',
            'blocked challenge',
            self::all(
                '<html><head><meta charset=utf-8><title>One moment, please</title><meta http-equiv=refresh'
                    .' content=8></head><body><h1>Checking your browser before access</h1><p>This takes up to five'
                        .' seconds.</p></body></html>',
            ),
        );
        $this->scene(
            'humaine',
            'blocked challenge',
            static fn (): Response => Response::html(
                self::page('Vérification', '<p>Vérifiez que vous êtes humain pour continuer.</p>'), 403,
            ),
        );
        $this->scene(
            'no-way-in',
            'blocked forbidden',
            static fn (): Response => Response::html(self::page('Page not found', '<h1>Nothing here for you</h1>'), 403),
        );
        $this->scene(
            'pure-or-free',
            'blocked consent',
            self::all(self::page(
                'Küstenbote',
                '<dialog open><h2>Mit Werbung lesen oder Pur-Abo</h2><p>Mit Ihrer Zustimmung verarbeiten wir und 98 Partner Cookies und'
                    .' Kennungen.</p><button>Zustimmen und weiter</button><a href=/pur>Pur für 3 im Monat</a></dialog>',
            )),
        );
        $this->scene(
            'wall-nl',
            'blocked consent',
            self::all(self::page(
                'De Kust',
                '<h1>Jouw privacy</h1><p>Wij en onze partners plaatsen cookies.</p><form><button>Alles accepteren</button></form>',
            )),
        );
        $this->scene('too-many', 'blocked rate-limit', static fn (): Response => new Response(429, [], ''));
    }

    private function outOfReach(): void
    {
        $this->scene(
            'other-protocol', 'unreachable bad-response', static fn (): Response => Response::redirect('ftp://files.late.test/x', 302),
        );
        $this->scene('bad-target', 'unreachable bad-response', static fn (): Response => Response::redirect('http://', 302));
        $this->scene(
            'failing-with-text',
            'unreachable server-error',
            static fn (): Response => Response::html(self::page('What Ivo saw', self::REPORT), 500),
        );
        $this->scene(
            'no-status',
            'unreachable bad-response',
            static fn (): Response => Response::raw("HTTP/1.1 abc\r\nContent-Type: text/html\r\n\r\n<p>x"),
        );
        $this->scene(
            'head-without-end',
            'unreachable bad-response',
            static fn (): Response => Response::raw("HTTP/1.1 200 OK\r\nContent-Type: text/html\r\n"),
        );
        $this->scene(
            'packed-and-cut',
            'unreachable bad-response',
            static fn (): Response => Response::html(self::page('What Ivo saw', str_repeat(self::REPORT, 3)))->gzip()->cutAt(300),
        );
        $this->scene(
            'round-by-pages',
            'unreachable redirect-loop',
            static fn (Request $r): Response => Response::html(
                '<meta http-equiv=refresh content="0;url='.('/a' === $r->path ? '/b' : '/a').'">',
            ),
        );
    }

    private static function museum(string $body): string
    {
        return self::page(
            'Sound Museum',
            '<header><a href=/>Sound Museum</a><form action=/find><input name=q><button>Find</button></form></header><ul><li><a'
                .' href=/o>Opening hours</a><li><a href=/g>Groups</a><li><a href=/s>Shop</a></ul>'
                .$body
                .'<hr><p>Sound Museum, 4 Rope Walk, Saltmarch. Open from Tuesday to Sunday, ten to five. The café closes at four.</p>',
        );
    }
}
