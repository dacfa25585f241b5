<?php

declare(strict_types=1);

namespace Ypomna\Standin\Site;

use Ypomna\Standin\Web\Request;
use Ypomna\Standin\Web\Response;
use Ypomna\Standin\Web\Site;

/**
 * The Saltmarch Lantern, a newspaper: articles among advertisements, comments loaded by script, pictures loaded while
 * scrolling, web fonts, a live counter, a consent banner. It edits silently.
 */
final class Lantern implements Site
{
    private const CDN = 'http://cdn.lantern.test';

    public function hosts(\DateTimeImmutable $now): array
    {
        return ['lantern.test', 'www.lantern.test', 'cdn.lantern.test'];
    }

    public function answer(Request $request): Response
    {
        if ('cdn.lantern.test' === $request->host) {
            return $this->asset($request);
        }

        return match (rtrim($request->path, '/')) {
            '' => $this->front($request),
            '/api/readers' => Response::of(
                'application/json', (string) json_encode(['readers' => 40 + $request->now->getTimestamp() % 97]),
            )->with('Cache-Control', 'no-store'),
            '/api/comments' => $this->comments($request),
            '/2024/06/summer-crowds' => $request->since('2025-09-01')
                ? Response::redirect('http://lantern.test/', 302)
                : $this->summerCrowds($request),
            '/2024/11/petrel-dawn-held' => $request->since('2024-11-10') ? $this->held($request) : $this->missing($request),
            '/2024/12/who-knew' => $request->since('2024-12-08') ? $this->whoKnew($request) : $this->missing($request),
            '/2025/01/the-seal' => $request->since('2025-01-15') ? $this->theSeal($request) : $this->missing($request),
            default => $this->missing($request),
        };
    }

    private function front(Request $request): Response
    {
        $stories = [];
        if ($request->since('2024-06-14') && !$request->since('2025-09-01')) {
            $stories[] = [
                '/2024/06/summer-crowds', 'Record summer crowds on the Sound', 'Queues reached Quay Street by nine in the morning.',
            ];
        }
        if ($request->since('2024-11-10')) {
            $stories[] = ['/2024/11/petrel-dawn-held', $this->headline($request), 'Water was found on the vehicle deck.'];
        }
        if ($request->since('2024-12-08')) {
            $stories[] = ['/2024/12/who-knew', 'Who knew about the stern door?', 'Two reports, one date, and a gap between them.'];
        }
        if ($request->since('2025-01-15')) {
            $stories[] = ['/2025/01/the-seal', 'The seal that was three years old', 'Its maker says it should have been replaced.'];
        }
        $list = '';
        foreach (array_reverse($stories) as [$href, $title, $teaser]) {
            $list .= "<article><h2><a href=\"{$href}\">{$title}</a></h2><p>{$teaser}</p></article>\n";
        }
        $weather = [
            'Wind west five, rain later.', 'Fog on the Sound until noon.', 'Bright, wind south three.', 'Gale warning for the outer Sound.',
        ][(int) $request->now->format('z') % 4];

        return $this->page(
            $request,
            'The Saltmarch Lantern',
            '<h1 class="masthead">The Saltmarch Lantern</h1><p class="weather">'.$weather.'</p>'
                .('' === $list ? '<p>Town council meets on Thursday. The fish market is closed for repairs.</p>' : $list),
        );
    }

    private function headline(Request $request): string
    {
        return $request->at([
            '2024-11-10' => 'Ferry held in port after forty centimetres of water on deck',
            '2024-11-17' => 'Ferry held in port after water on deck',
            '2025-04-02' => 'Ferry was kept in port as a precaution',
        ]);
    }

    private function held(Request $request): Response
    {
        $passengers = $request->at(['2024-11-10' => '212', '2024-11-17' => '186']);
        $quote = $request->since('2025-04-02')
            ? ''
            : '<p>“We saw the water before we cast off,” said a deckhand who asked not to be named. “It was in the log.”</p>';

        return $this->article($request, $this->headline($request), 'Mabyn Crewe', '10 November 2024', <<<HTML
            <p>The ferry Petrel Dawn was held at Saltmarch on Friday after water entered her vehicle deck during the 06:10 crossing to
            Hollin Quay. She carried {$passengers} passengers.</p>
            <p>The operator, <a href="http://www.saltmarch-ferries.test/">Saltmarch Ferries</a>, said the seal of the stern door had
            failed. Its <a href="http://www.saltmarch-ferries.test/safety/stern-door">notice</a> gives no cause.</p>
            {$quote}
            <figure><img class="later" data-src="http://cdn.lantern.test/pictures/berth.png"
            width="600" height="300" alt="Petrel Dawn at berth two">
            <figcaption>Petrel Dawn at berth two on Friday. Picture: Lantern</figcaption></figure>
            <p>The harbour board has opened an inquiry. Its last inspection of the ship was in March.</p>
            <p>Crossings at 06:10 and 13:15 are cancelled until further notice.</p>
            HTML, 'held');
    }

    private function whoKnew(Request $request): Response
    {
        $removed = $request->since('2025-03-12')
            ? ''
            : '<p>A maintenance sheet seen by the Lantern, dated 29 October, records “seal wet, monitor” in the hand of the safety'
                .' manager.</p>';

        return $this->article($request, 'Who knew about the stern door?', 'Mabyn Crewe', '8 December 2024', <<<HTML
            <p>Four weeks after Petrel Dawn was held, two documents disagree about when the leak was first seen.</p>
            {$removed}
            <p>The operator’s notice, reworded on 2 December, now says that the leak had not been reported before the crossing.</p>
            <figure><img class="later" data-src="http://cdn.lantern.test/pictures/door.png" width="600" height="300" alt="The stern door">
            <figcaption>The stern door, photographed in October.</figcaption></figure>
            <p>Asked about the change, the operator did not answer.</p>
            HTML, 'knew');
    }

    private function theSeal(Request $request): Response
    {
        $picture = $request->since('2025-06-20') ? 'harbour' : 'seal';

        return $this->article($request, 'The seal that was three years old', 'Denzil Hart', '15 January 2025', <<<HTML
            <p>The Corvane 400 is a ring of rubber as thick as a wrist. On its
            <a href="https://corvane-marine.test/products/stern-seal-400">product page</a> the maker says that it lasts three years.</p>
            <figure><img class="later" data-src="http://cdn.lantern.test/pictures/{$picture}.png"
            width="600" height="300" alt="A seal on a quay">
            <figcaption>The seal on the quay at Saltmarch.</figcaption></figure>
            <p>Petrel Dawn’s was fitted in May 2021. By November 2024 it was three and a half.</p>
            <p>Two other operators, in Porthmeia and on the Kaikyo, use the same seal.</p>
            HTML, 'seal');
    }

    private function summerCrowds(Request $request): Response
    {
        return $this->article($request, 'Record summer crowds on the Sound', 'Denzil Hart', '14 June 2024', <<<'HTML'
            <p>Queues for the morning crossing reached Quay Street by nine on Saturday. Merrow Line carried 3,140 passengers in a day,
            more than ever before.</p>
            <p>“We could fill a third ship,” said Jory Pell of the operator.</p>
            HTML, 'crowds');
    }

    private function article(Request $request, string $title, string $by, string $date, string $text, string $id): Response
    {
        return $this->page($request, $title.' – The Saltmarch Lantern', <<<HTML
            <article class="story"><h1>{$title}</h1><p class="by">By {$by}, <time>{$date}</time></p>
            {$text}
            </article>
            <aside class="ad"><p>ADVERTISEMENT</p><p>{$this->advertisement($request)}</p></aside>
            <section class="related"><h2>Related stories</h2><ul>{$this->related($request)}</ul></section>
            <section class="comments" data-article="{$id}"><h2>Comments</h2><p>Loading …</p></section>
            HTML);
    }

    private function advertisement(Request $request): string
    {
        return [
            'Tremayne’s Oilskins: dry since 1911.',
            'Fresh crab daily at the Fish Steps.',
            'Boat for sale, one careful owner. Tel. 4471.',
            'Learn to sail at Porth Merrow.',
        ][$request->now->getTimestamp() / 3600 % 4];
    }

    private function related(Request $request): string
    {
        $all = [
            'Harbour dues to rise',
            'New lamp for the north pier',
            'Choir sings for the lifeboat',
            'Tide tables for the month',
            'Old slipway to be mended',
        ];
        $from = (int) $request->now->format('W') % 5;
        $items = '';
        foreach ([0, 1, 2] as $i) {
            $items .= '<li><a href="/archive/'.(($from + $i) % 5).'">'.$all[($from + $i) % 5].'</a></li>';
        }

        return $items;
    }

    private function page(Request $request, string $title, string $main): Response
    {
        $cdn = self::CDN;

        return Response::html(<<<HTML
            <!doctype html>
            <html lang="en"><head><meta charset="utf-8"><title>{$title}</title>
            <meta name="description" content="News from Saltmarch and the Sound.">
            <link rel="preconnect" href="{$cdn}"><link rel="stylesheet" href="{$cdn}/lantern.css">
            <script>window.lantern = {edition: "{$request->now->format('Ymd')}"};</script>
            </head><body>
            <nav class="top"><a href="/">The Lantern</a> <span class="readers"></span></nav>
            <main>
            {$main}
            </main>
            <div class="consent" role="dialog" aria-label="Cookies"><p>We use cookies to count
            readers.</p><button type="button">Fine</button></div>
            <script src="{$cdn}/lantern.js"></script>
            </body></html>
            HTML)->gzip()->chunked()->with(
            'Set-Cookie', 'edition='.$request->now->format('Ymd').'; Path=/',
        )->with('Vary', 'Accept-Encoding');
    }

    private function comments(Request $request): Response
    {
        parse_str($request->query, $query);
        $all = [
            'held' => [
                ['2024-11-11', 'Anwen', 'Was the log published?'],
                ['2024-11-13', 'Old Salt', 'That door leaked in the spring, too.'],
                ['2025-01-04', 'J.', 'Still no answer.'],
            ],
            'knew' => [['2024-12-09', 'Kerra', 'Thank you for this.']],
        ][\is_string($query['article'] ?? null) ? $query['article'] : ''] ?? [];

        return Response::of(
            'application/json',
            (string) json_encode(array_values(array_filter($all, static fn (array $c): bool => $request->since($c[0])))),
        );
    }

    private function missing(Request $request): Response
    {
        return Response::html(
            '<!doctype html><title>Not found – The Saltmarch Lantern</title><h1>We cannot find that page</h1><p><a href="/">To the front'
                .' page</a>',
            404,
        );
    }

    private function asset(Request $request): Response
    {
        return match ($request->path) {
            '/lantern.css' => Response::of('text/css', <<<'CSS'
                @import "print.css" print;
                @font-face{font-family:Lantern;src:url("fonts/lantern.woff2") format("woff2");font-display:swap}
                body{margin:0;font:17px/1.55 Lantern,serif;color:#1c1c1c;background:#fff}
                .top{background:#20303a;color:#fff;padding:10px 24px;display:flex;justify-content:space-between}.top a{color:#fff}
                main{max-width:720px;margin:24px auto;padding:0 20px;min-height:70vh}
                h1,h2{line-height:1.2}.by,figcaption{color:#666;font-size:14px}
                figure{margin:24px 0}.story{padding-bottom:260px}
                .ad{border:1px dashed #999;padding:6px 14px;background:#fafae8;font-family:sans-serif}
                .consent{position:fixed;bottom:0;left:0;right:0;background:#eee;border-top:2px solid #888;
                padding:8px 24px;display:flex;gap:20px;align-items:center;font-family:sans-serif;font-size:14px}
                .masthead{font-size:44px;border-bottom:3px double #222;text-align:center}
                CSS)->gzip(),
            '/print.css' => Response::of('text/css', 'nav,.ad,.consent{display:none}'),
            '/lantern.js' => Response::of('text/javascript', <<<'JS'
                document.querySelector('.consent button').addEventListener('click', function () {
                  document.querySelector('.consent').remove();
                });
                fetch('/api/readers').then(r => r.json()).then(d => {
                  document.querySelector('.readers').textContent = d.readers + ' reading now';
                }).catch(() => {});
                const box = document.querySelector('.comments');
                if (box) fetch('/api/comments?article=' + box.dataset.article).then(r => r.json()).then(list => {
                  box.lastElementChild.remove();
                  if (!list.length) box.append(Object.assign(document.createElement('p'), {textContent: 'No comments yet.'}));
                  for (const [date, who, said] of list) {
                    const p = document.createElement('p'); p.textContent = who + ' (' + date + '): ' + said; box.append(p);
                  }
                }).catch(() => {});
                const watcher = new IntersectionObserver(seen => {
                  for (const e of seen) if (e.isIntersecting) { e.target.src = e.target.dataset.src; watcher.unobserve(e.target); }
                });
                document.querySelectorAll('img.later').forEach(i => watcher.observe(i));
                JS)->gzip()->chunked(),
            '/fonts/lantern.woff2' => Response::of(
                'font/woff2', (string) file_get_contents(__DIR__.'/../../public/build/fonts/literata.woff2'),
            )->with('Access-Control-Allow-Origin', '*'),
            '/pictures/berth.png' => Response::of('image/png', Art::ship(600, 300, '#1d5d73', 'PETREL DAWN', 11)),
            '/pictures/door.png' => Response::of('image/png', Art::ship(600, 300, '#40535c', 'STERN', 23)),
            '/pictures/seal.png' => Response::of('image/png', Art::ship(600, 300, '#3a3a3a', 'SEAL', 31)),
            '/pictures/harbour.png' => Response::of('image/png', Art::ship(600, 300, '#806a4a', 'HARBOUR', 47)),
            default => Response::html('<p>No such file.', 404),
        };
    }
}
