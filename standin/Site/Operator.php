<?php

declare(strict_types=1);

namespace Ypomna\Standin\Site;

use Ypomna\Standin\Web\Request;
use Ypomna\Standin\Web\Response;
use Ypomna\Standin\Web\Site;

/**
 * The ferry operator: Merrow Line, from September 2024 Saltmarch Ferries at another address. Its notice about the
 * stern door is reworded four times and then withdrawn.
 */
final class Operator implements Site
{
    private const OLD = 'merrowline.test';
    private const NEW = 'www.saltmarch-ferries.test';
    private const ASSETS = 'static.saltmarch-ferries.test';
    private const RENAMED = '2024-09-01';

    public function hosts(\DateTimeImmutable $now): array
    {
        $day = $now->format('Y-m-d');
        $hosts = $day < '2025-06-01' ? [self::OLD] : [];

        return $day < self::RENAMED ? $hosts : [...$hosts, self::NEW, 'saltmarch-ferries.test', self::ASSETS];
    }

    public function answer(Request $request): Response
    {
        if ($request->since(self::RENAMED) && !\in_array($request->host, [self::NEW, self::ASSETS], true)) {
            return Response::redirect('http://'.self::NEW.$request->path.('' === $request->query ? '' : '?'.$request->query));
        }
        if (str_starts_with($request->path, '/assets/')) {
            return $this->asset($request);
        }

        return match (rtrim($request->path, '/')) {
            '' => $this->page($request, 'Ferries on Merrow Sound', $this->home($request))->gzip(),
            '/timetable' => $this->page($request, 'Timetable', $this->timetable($request))->chunked(),
            '/fares' => $this->page($request, 'Fares', $this->fares($request)),
            '/fleet' => $this->page($request, 'Our fleet', $this->fleet($request)),
            '/fleet/petrel-dawn' => $this->page($request, 'MV Petrel Dawn', $this->petrelDawn($request)),
            '/people' => $this->page($request, 'People', $this->people($request)),
            '/press' => $this->page($request, 'Press', $this->press($request)),
            '/press/petrel-dawn-update' => $this->pressRelease($request),
            '/safety/stern-door' => $this->notice($request),
            default => $this->missing($request),
        };
    }

    private function page(Request $request, string $title, string $main, int $status = 200): Response
    {
        $renamed = $request->since(self::RENAMED);
        $name = $renamed ? 'Saltmarch Ferries' : 'Merrow Line';
        $assets = $renamed ? 'http://'.self::ASSETS : '';
        $class = $renamed ? 'new' : 'old';

        $version = $request->at(['2024-03-01' => '41', '2024-09-01' => '2', '2025-02-01' => '7']);

        return Response::html(<<<HTML
            <!DOCTYPE html>
            <html lang="en">
            <head>
            <meta charset="utf-8">
            <title>{$title} | {$name}</title>
            <meta name="description" content="{$name}: crossings between Saltmarch, Hollin Quay and Porth Merrow.">
            <meta name="viewport" content="width=device-width, initial-scale=1">
            <link rel="stylesheet" href="{$assets}/assets/line.css?v={$version}">
            <link rel="icon" href="{$assets}/assets/mark.svg">
            </head>
            <body class="{$class}">
            <header><a class="brand" href="/"><img src="{$assets}/assets/mark.svg" alt="{$name}" width="180" height="44"></a>
            <nav><a href="/timetable">Timetable</a> <a href="/fares">Fares</a> <a href="/fleet">Fleet</a> <a href="/press">Press</a>
            <a href="/people">People</a></nav></header>
            <main>
            {$main}
            </main>
            <footer>
            <p>{$name} Ltd, 4 Quay Street, Saltmarch. Booking office open daily from 05:40.</p>
            <p class="made">Page made {$request->now->format('j M Y H:i')}</p>
            </footer>
            </body>
            </html>
            HTML, $status)->with('Server', $renamed ? 'quayside/2.1' : 'quayside/1.4')->with('Cache-Control', 'no-cache');
    }

    private function home(Request $request): string
    {
        $news = $request->at([
            '2024-03-01' => '<p>Winter timetable until 24 March. Dogs travel free before Easter.</p>',
            '2024-04-01' => '<p>The summer timetable is in force: eleven crossings a day to Hollin Quay.</p>',
            '2024-09-01' => '<p><strong>Merrow Line is now Saltmarch Ferries.</strong> Same ships, same crews, new name.</p>',
            '2024-11-11' => '<p class="alert">Petrel Dawn is out of service. Read the <a href="/safety/stern-door">notice about her'
                .' stern door</a>.</p>',
            '2025-03-01' => '<p class="alert">Petrel Dawn has returned to the Hollin Quay crossing.</p>',
            '2026-02-15' => '<p>Summer bookings for 2026 are open.</p>',
        ]);
        $assets = $this->assets($request);

        return <<<HTML
            <h1>Across Merrow Sound, every day of the year</h1>
            {$news}
            <p><img src="{$assets}/assets/petrel-dawn.png" alt="MV Petrel Dawn leaving Saltmarch" width="640" height="320"></p>
            <h2>Next departures</h2>
            <ul><li><a href="/timetable">Saltmarch to Hollin Quay</a></li><li><a href="/timetable#porth">Hollin Quay to Porth
            Merrow</a></li></ul>
            HTML;
    }

    private function timetable(Request $request): string
    {
        $season = $request->at([
            '2024-03-01' => 'Winter 2023/24', '2024-03-25' => 'Summer 2024', '2024-10-07' => 'Winter 2024/25',
            '2025-03-31' => 'Summer 2025', '2025-10-06' => 'Winter 2025/26', '2026-03-30' => 'Summer 2026',
        ]);
        $rows = $request->at([
            '2024-03-01' => [
                ['06:10', '06:50', 'Petrel Dawn'],
                ['09:30', '10:10', 'Sound Heron'],
                ['13:00', '13:40', 'Petrel Dawn'],
                ['17:45', '18:25', 'Sound Heron'],
            ],
            '2024-03-25' => [
                ['05:50', '06:30', 'Petrel Dawn'], ['08:00', '08:40', 'Sound Heron'], ['10:15', '10:55', 'Petrel Dawn'],
                ['13:00', '13:40', 'Petrel Dawn'], ['16:20', '17:00', 'Sound Heron'], ['19:30', '20:10', 'Petrel Dawn'],
            ],
            '2024-10-07' => [
                ['06:10', '06:50', 'Petrel Dawn'],
                ['09:30', '10:10', 'Sound Heron'],
                ['13:15', '13:55', 'Petrel Dawn'],
                ['17:45', '18:25', 'Sound Heron'],
            ],
            '2024-11-11' => [
                ['06:10', '06:50', 'cancelled'],
                ['09:30', '10:10', 'Sound Heron'],
                ['13:15', '13:55', 'cancelled'],
                ['17:45', '18:25', 'Sound Heron'],
            ],
            '2025-03-31' => [
                ['05:50', '06:35', 'Petrel Dawn'], ['08:00', '08:45', 'Sound Heron'], ['10:15', '11:00', 'Petrel Dawn'],
                ['13:00', '13:45', 'Grey Tern'], ['16:20', '17:05', 'Sound Heron'], ['19:30', '20:15', 'Grey Tern'],
            ],
            '2025-10-06' => [
                ['06:10', '06:55', 'Grey Tern'],
                ['09:30', '10:15', 'Sound Heron'],
                ['13:15', '14:00', 'Grey Tern'],
                ['17:45', '18:30', 'Sound Heron'],
            ],
            '2026-03-30' => [
                ['05:50', '06:35', 'Grey Tern'],
                ['08:00', '08:45', 'Sound Heron'],
                ['13:00', '13:45', 'Grey Tern'],
                ['19:30', '20:15', 'Grey Tern'],
            ],
        ]);
        $table = '';
        foreach ($rows as [$leaves, $arrives, $ship]) {
            $table .= "<tr><td>{$leaves}</td><td>{$arrives}</td><td>{$ship}</td></tr>\n";
        }

        return <<<HTML
            <h1>Timetable, {$season}</h1>
            <h2>Saltmarch to Hollin Quay</h2>
            <table><thead><tr><th>Saltmarch</th><th>Hollin Quay</th><th>Ship</th></tr></thead><tbody>
            {$table}</tbody></table>
            <p>Vehicles board until ten minutes before departure. Crossings may be altered in high winds.</p>
            <h2 id="porth">Hollin Quay to Porth Merrow</h2>
            <p>On Tuesdays, Thursdays and Saturdays, twenty minutes after each arrival from Saltmarch.</p>
            HTML;
    }

    private function fares(Request $request): string
    {
        $car = $request->at(['2024-03-01' => '18.40', '2024-09-01' => '19.20', '2025-04-01' => '21.60', '2026-04-01' => '22.40']);
        $foot = $request->at(['2024-03-01' => '6.20', '2025-04-01' => '6.80', '2026-04-01' => '7.10']);

        return <<<HTML
            <h1>Fares</h1>
            <table><tr><th>Single</th><th>Crowns</th></tr><tr><td>Foot passenger</td><td>{$foot}</td></tr><tr><td>Car up to 5 m, driver
            included</td><td>{$car}</td></tr><tr><td>Bicycle</td><td>2.00</td></tr></table>
            <p>Children under five travel free. Islanders show their card and pay half.</p>
            HTML;
    }

    private function fleet(Request $request): string
    {
        $ships = $request->at([
            '2024-03-01' => [['Petrel Dawn', 1998, 64], ['Sound Heron', 2006, 48]],
            '2025-03-20' => [['Petrel Dawn', 1998, 64], ['Sound Heron', 2006, 48], ['Grey Tern', 2011, 52]],
            '2025-09-15' => [['Sound Heron', 2006, 48], ['Grey Tern', 2011, 52]],
        ]);
        $rows = '';
        foreach ($ships as [$ship, $built, $cars]) {
            $label = 'Petrel Dawn' === $ship ? '<a href="/fleet/petrel-dawn">Petrel Dawn</a>' : $ship;
            $rows .= "<tr><td>{$label}</td><td>{$built}</td><td>{$cars}</td></tr>";
        }

        return "<h1>Our fleet</h1><table><tr><th>Ship</th><th>Built</th><th>Cars</th></tr>{$rows}</table><p>All ships are surveyed every"
            .' year by the harbour board.</p>';
    }

    private function petrelDawn(Request $request): string
    {
        if ($request->since('2025-09-15')) {
            return '<h1>MV Petrel Dawn</h1><p>This ship has left the fleet.</p>';
        }
        $door = $request->at([
            '2024-03-01' => 'Her stern door was fitted with a Corvane 400 seal in 2021.',
            '2024-11-20' => 'Her stern door is under repair.',
            '2025-03-01' => 'Her stern door was renewed in 2025.',
        ]);
        $assets = $this->assets($request);

        return <<<HTML
            <h1>MV Petrel Dawn</h1>
            <figure><img src="{$assets}/assets/petrel-dawn.png" alt="Petrel Dawn at her berth" width="640" height="320"><figcaption>Petrel
            Dawn at Saltmarch, berth two.</figcaption></figure>
            <dl><dt>Built</dt><dd>1998, Hollin Yard</dd><dt>Length</dt><dd>71.4
            m</dd><dt>Passengers</dt><dd>{$request->at(['2024-03-01' => '420', '2025-03-01' => '380'])}</dd></dl>
            <p>{$door} She carries her own crew of fourteen.</p>
            HTML;
    }

    private function people(Request $request): string
    {
        $safety = $request->since('2025-01-06') ? '' : '<li><b>Edda Marlow</b>, safety manager</li>';

        return <<<HTML
            <h1>People</h1>
            <ul class="people"><li><b>Corwin Tait</b>, managing director</li>{$safety}<li><b>Jory Pell</b>, harbour
            operations</li><li><b>Anwen Rook</b>, press</li></ul>
            <p>Write to any of us at Quay Street. We answer within ten days.</p>
            HTML;
    }

    private function press(Request $request): string
    {
        $items = ['<li>14 March 2024: Easter crossings</li>'];
        if ($request->since(self::RENAMED)) {
            $items[] = '<li>2 September 2024: A new name on the Sound</li>';
        }
        if ($request->since('2024-11-14') && !$request->since('2025-01-20')) {
            $items[] = '<li>14 November 2024: <a href="/press/petrel-dawn-update">Petrel Dawn: an update</a></li>';
        }

        return '<h1>Press</h1><ul>'.implode('', array_reverse($items)).'</ul><p>Pictures for the press are sent on request.</p>';
    }

    private function pressRelease(Request $request): Response
    {
        if (!$request->since('2024-11-14')) {
            return $this->missing($request);
        }
        if ($request->since('2025-01-20')) {
            return $this->page($request, 'Withdrawn', '<h1>Withdrawn</h1><p>This release has been withdrawn.</p>', 410);
        }

        return $this->page($request, 'Petrel Dawn: an update', <<<'HTML'
            <h1>Petrel Dawn: an update</h1>
            <p class="date">14 November 2024</p>
            <p>Saltmarch Ferries confirms that Petrel Dawn remains in port while the seal of her stern door is examined. Managing director
            Corwin Tait said: “We learned of the leak on the morning of 8 November and acted within the hour.”</p>
            <p>Passengers with bookings will be carried by Sound Heron. Nobody was hurt.</p>
            <p>The seal was supplied by <a href="https://corvane-marine.test/products/stern-seal-400">Corvane Marine</a>. See also the
            <a href="/safety/stern-door">safety notice</a>.</p>
            HTML);
    }

    private function notice(Request $request): Response
    {
        if (!$request->since('2024-11-11')) {
            return $this->missing($request);
        }
        if ($request->since('2026-02-15')) {
            return $this->missing($request);
        }
        $water = $request->since('2024-11-15') ? '14' : '40';
        $known = $request->since('2024-12-02')
            ? 'The leak had not been reported before the crossing of 8 November.'
            : 'The leak had been reported before the crossing of 8 November.';
        $signed = $request->since('2025-02-04')
            ? 'The door was inspected on 9 November by our safety department.'
            : 'The door was inspected on 9 November by safety manager Edda Marlow.';
        $refunds = '<p>Tickets for cancelled crossings are refunded at the booking office. Bring the ticket and a form of identity.</p>';
        $first = $request->since('2025-05-20') ? $refunds : '';
        $last = $request->since('2025-05-20') ? '' : $refunds;

        return $this->page($request, 'Notice: stern door of Petrel Dawn', <<<HTML
            <h1>Notice: stern door of Petrel Dawn</h1>
            <p class="date">Published 11 November 2024</p>
            {$first}
            <p>During the 06:10 crossing on 8 November 2024 water entered the vehicle deck of Petrel Dawn through the seal of her stern
            door. The crew measured {$water} centimetres of water at the aft bulkhead. Nobody was hurt.</p>
            <p>{$known} {$signed}</p>
            <h2>What we are doing</h2>
            <ul><li>Petrel Dawn stays in port until the seal has been replaced.</li><li>The doors of Sound Heron have been
            checked.</li><li>The <a href="http://board.merrow-sound.test/reports/2024/petrel-dawn">harbour board</a> has been
            told.</li></ul>
            <p>The seal is a <a href="https://corvane-marine.test/products/stern-seal-400">Corvane 400</a>, fitted in 2021. Its maker
            recommends replacement after three years.</p>
            {$last}
            HTML);
    }

    private function missing(Request $request): Response
    {
        return $this->page(
            $request,
            'Not found',
            '<h1>Not found</h1><p>There is no page at this address. Start from the <a href="/">first page</a>.</p>',
            404,
        );
    }

    private function asset(Request $request): Response
    {
        $accent = $request->since(self::RENAMED) ? '#1d5d73' : '#7a2f2f';

        return match ($request->path) {
            '/assets/line.css' => Response::of(
                'text/css',
                'body{font:16px/1.5 Georgia,serif;margin:0;color:#222;background:#fbfaf6}header,main,footer{max-width:860px;margin:0'
                    ." auto;padding:12px 20px}\nheader{display:flex;gap:24px;align-items:center;border-bottom:4px solid {$accent}}nav"
                        ." a{margin-right:14px;color:{$accent}}\nh1{color:{$accent}}table{border-collapse:collapse}td,th{border:1px"
                            .' solid #bbb;padding:4px 12px;text-align:left}.alert{border-left:6px solid #b4562a;padding:8px'
                                .' 14px;background:#fff url(wave.svg) no-repeat right'
                                    .' center}footer{font-size:13px;color:#666;border-top:1px solid #ccc;margin-top:40px}',
            )->with('Cache-Control', 'max-age=3600'),
            '/assets/mark.svg' => Response::of(
                'image/svg+xml', Art::badge($request->since(self::RENAMED) ? 'Saltmarch' : 'Merrow Line', $accent),
            ),
            '/assets/wave.svg' => Response::of(
                'image/svg+xml',
                '<svg xmlns="http://www.w3.org/2000/svg" width="90" height="30"><path d="M0 20q11-14 22 0t22 0 22 0 22 0" fill="none"'
                    .' stroke="'
                    .$accent.'"/></svg>',
            ),
            '/assets/petrel-dawn.png' => Response::of(
                'image/png', Art::ship(640, 320, $request->since(self::RENAMED) ? '#1d5d73' : '#7a2f2f', 'PETREL DAWN', 7),
            ),
            default => Response::html('<p>No such file.', 404),
        };
    }

    private function assets(Request $request): string
    {
        return $request->since(self::RENAMED) ? 'http://'.self::ASSETS : '';
    }
}
