<?php

declare(strict_types=1);

namespace Ypomna\Standin\Site;

use Ypomna\Standin\Web\Request;
use Ypomna\Standin\Web\Response;
use Ypomna\Standin\Web\Site;

/**
 * The harbour board: inspection reports in HTML and PDF, a register of vessels with 400 rows, minutes. The report of 2024 is
 * withdrawn in 2025; in 2026 a new site answers every old address with 200 and "we have moved things around".
 */
final class Board implements Site
{
    private const NEW_SITE = '2026-01-15';
    private const WITHDRAWN = '2025-03-01';

    public function hosts(\DateTimeImmutable $now): array
    {
        return ['board.merrow-sound.test'];
    }

    public function answer(Request $request): Response
    {
        $path = rtrim($request->path, '/');
        if ('/robots.txt' === $path) {
            return Response::of(
                'text/plain', "User-agent: *\nDisallow: /drafts/\nCrawl-delay: 1\nSitemap: http://board.merrow-sound.test/sitemap.xml\n",
            );
        }
        if ('/board.css' === $path) {
            return Response::of(
                'text/css',
                'body{font:16px/1.5 Georgia,serif;margin:0 6%;background:#fff;color:#222}h1{border-bottom:2px solid'
                    .' #7a1f1f}table{border-collapse:collapse;width:100%}td,th{border:1px solid #bbb;padding:3px 8px;text-align:left}nav'
                        .' a{margin-right:18px}',
            );
        }
        if ($request->since(self::NEW_SITE)) {
            return $this->page(
                'Merrow Sound Harbour Board',
                '' === $path
                    ? '<h1>Welcome to our new site</h1><p>Find tides, moorings and news in one place.</p>'
                    : '<h1>We have moved things around</h1><p>The page you are looking for may have a new home. Please start from our <a'
                        .' href="/">front page</a>, or use the search.</p>',
            );
        }

        return match ($path) {
            '' => $this->page(
                'Merrow Sound Harbour Board',
                '<h1>Merrow Sound Harbour Board</h1><p>We license the ferries of the Sound, inspect them, and publish what we'
                    .' find.</p><ul><li><a href="/reports/2024/petrel-dawn">Inspection of Petrel Dawn, spring 2024</a></li><li><a'
                        .' href="/register">Register of vessels</a></li><li><a href="/minutes/2024-11">Minutes, November'
                            .' 2024</a></li></ul>',
            ),
            '/reports/2024/petrel-dawn' => $request->since(self::WITHDRAWN)
                ? $this->gone()
                : $this->page('Inspection report 2024/17: Petrel Dawn', $this->report()),
            '/reports/2024/petrel-dawn.pdf' => $request->since(self::WITHDRAWN)
                ? $this->gone()
                : Response::of(
                    'application/pdf',
                    Art::pdf([
                        'Merrow Sound Harbour Board',
                        'Inspection report 2024/17: MV Petrel Dawn',
                        'Date of inspection: 12 April 2024',
                        'Stern door seal: worn, replace within 90 days.',
                        'Re-inspection: not recorded.',
                    ]),
                ),
            '/register' => $this->page('Register of vessels', $this->register($request)),
            '/minutes/2024-11' => $request->since('2024-11-28')
                ? $this->page(
                    'Minutes of 26 November 2024',
                    '<h1>Minutes of the meeting of 26 November 2024</h1><ol><li>Apologies: Mr Trewin.</li><li>The harbour master'
                        .' reported on the failure of the stern door of Petrel Dawn. Report 2024/17 had asked for a new seal within 90'
                            .' days.</li><li>The board asked the operator for the date of the last inspection. None was'
                                .' given.</li><li>The next meeting is on 14 January.</li></ol>',
                )
                : $this->gone(),
            '/sitemap.xml' => Response::of(
                'application/xml',
                '<?xml version="1.0" encoding="UTF-8"?><urlset'
                    .' xmlns="http://www.sitemaps.org/schemas/sitemap/0.9"><url><loc>http://board.merrow-sound.test/</loc></url><url>'
                        .'<loc>http://board.merrow-sound.test/register</loc></url><url><loc>'
                            .'http://board.merrow-sound.test/minutes/2024-11</loc></url><url><loc>'
                                .'http://board.merrow-sound.test/tides/2024-11</loc></url></urlset>',
            ),
            '/drafts/report' => $this->page('Draft', '<h1>Draft</h1><p>Not for publication.</p>'),
            default => 1 === preg_match('#^/tides/(\d{4})-(\d\d)$#', $path, $m) ? $this->tides((int) $m[1], (int) $m[2]) : $this->gone(),
        };
    }

    private function report(): string
    {
        return <<<'HTML'
            <h1>Inspection report 2024/17: MV Petrel Dawn</h1>
            <p>Inspected at Saltmarch on 12 April 2024 by J. Penhale. <a href="/reports/2024/petrel-dawn.pdf">The same as PDF</a>.</p>
            <table><caption>Findings</caption><thead><tr><th>Item</th><th>Finding</th><th>Remedy</th></tr></thead><tbody>
            <tr><td>Stern door, seal</td><td>Worn on both lower corners; fitted May 2021.</td><td>Replace within 90 days.</td></tr>
            <tr><td>Stern door, locks</td><td>In order.</td><td>None.</td></tr>
            <tr><td>Bilge alarm</td><td>Sounds late.</td><td>Adjust.</td></tr></tbody></table>
            <p>The operator was told on the day.</p>
            HTML;
    }

    private function register(Request $request): string
    {
        $rows = '';
        $names = ['Petrel', 'Heron', 'Tern', 'Curlew', 'Gannet', 'Puffin', 'Plover', 'Dunlin', 'Kittiwake', 'Shearwater'];
        $second = ['Dawn', 'Star', 'Light', 'Wind', 'Tide', 'Bay', 'Point', 'Sound'];
        for ($n = 0; $n < 400; ++$n) {
            $owner = 0 === $n
                ? ($request->since('2024-09-01') ? 'Saltmarch Ferries Ltd' : 'Merrow Line Ltd')
                : ['Hollin Fisheries', 'Porth Merrow Boats', 'private', 'Quay Street Marine'][$n % 4];
            $rows .= \sprintf(
                '<tr><td>MS %03d</td><td>%s %s</td><td>%d</td><td>%s</td><td>%s</td></tr>',
                $n + 1,
                $names[$n % 10],
                $second[intdiv($n, 10) % 8],
                1960 + ($n * 37) % 62,
                $owner,
                0 === $n && $request->since('2024-11-08') ? 'suspended' : 'valid',
            )
                ."\n";
        }

        return '<h1>Register of'
            .' vessels</h1><table><thead><tr><th>No.</th><th>Name</th><th>Built</th><th>Owner</th><th>Licence</th></tr></thead><tbody>'
            .$rows.'</tbody></table>';
    }

    /** A calendar that has a month before and a month after each, for ever. */
    private function tides(int $year, int $month): Response
    {
        $first = (new \DateTimeImmutable('2000-01-01'))->setDate($year, $month, 1);
        $days = '';
        for ($day = 1; $day <= (int) $first->format('t'); ++$day) {
            $days .= '<td>'.$day.'</td>'.(0 === $day % 7 ? '</tr><tr>' : '');
        }

        return $this->page(
            'Tides, '.$first->format('F Y'),
            '<h1>Tides in '.$first->format('F Y').'</h1><table><tr>'.$days
                .'</tr></table><p>No tables for this month.</p><p><a href="/tides/'.$first->modify('-1 month')->format('Y-m')
                .'">Earlier</a> <a href="/tides/'.$first->modify('+1 month')->format('Y-m').'">Later</a></p>',
        );
    }

    private function gone(): Response
    {
        return $this->page('Not found', '<h1>Not found</h1><p>There is no such document.</p>', 404);
    }

    private function page(string $title, string $main, int $status = 200): Response
    {
        return Response::html(
            "<!DOCTYPE html>\n<html lang=\"en\"><head><meta charset=\"utf-8\"><title>{$title}</title><link rel=\"stylesheet\""
                .' href="/board.css"></head><body><nav><a href="/">Board</a><a href="/register">Register</a><a'
                    ." href=\"/minutes/2024-11\">Minutes</a></nav>{$main}</body></html>",
            $status,
        );
    }
}
