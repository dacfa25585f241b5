<?php

declare(strict_types=1);

namespace Ypomna\Tests\Support;

use Ypomna\Standin\Web\Request;
use Ypomna\Standin\Web\Response;
use Ypomna\Standin\Web\Site;

/** A site with everything that leads those astray who go through it to the end; and a small one behind a redirect to another host. */
final class MazeSite implements Site
{
    /** The pages that a person would count. */
    public const PAGES = ['/', '/news/1', '/news/2', '/news/3', '/only-in-map', '/only-in-feed', '/new', '/paper.pdf', '/frames'];

    public function hosts(\DateTimeImmutable $now): array
    {
        return ['maze.test', 'www.maze-two.test', 'maze-two.test', 'many.test'];
    }

    public function answer(Request $request): Response
    {
        if ('many.test' === $request->host) {
            return $this->many($request->path);
        }
        if (str_contains($request->host, 'maze-two')) {
            return 'maze-two.test' === $request->host && '/' === $request->path
                ? new Response(302, [['Location', 'http://www.maze-two.test/home/']], '')
                : Response::html(
                    '<title>Two</title><p>The second of them, at '.$request->path.'. <a href="/home/a">A</a> <a href="/other/b">B</a>',
                );
        }
        $path = $request->path;

        return match (true) {
            '/' === $path => Response::html(
                '<title>Maze</title><link rel="alternate" type="application/atom+xml" href="/feed"><link rel="stylesheet"'
                    .' href="/s.css"><h1>The maze</h1><p><a href="/news/1">News</a> <a href="/news/2">More</a> <a href="/old">Old</a> <a'
                        .' href="/paper.pdf">Paper</a> <a href="/frames">Frames</a> <a href="/private/x">Private</a> <a'
                            .' href="/calendar/2024/11">Calendar</a> <a href="/round/">Round</a> <a'
                                .' href="/room/0f3a9c1b7d2e4a68">Room</a> <a href="/broken">Broken</a> <a href="/busy">Busy</a> <a'
                                    .' href="http://elsewhere.test/">Elsewhere</a> <a href="mailto:a@maze.test">Mail</a><img'
                                        .' src="/one.png"><img src="/gone.png">',
            ),
            1 === preg_match('#^/news/([123])$#', $path, $m) => Response::html(
                "<title>News {$m[1]}</title><link rel=stylesheet href=/s.css><p>News number {$m[1]}: "
                    .['', 'the seal was ordered', 'the seal came', 'the seal was fitted'][(int) $m[1]]
                    .'. <a href="/news/3">Last</a> <a href="/">Home</a> <a'
                        .' href="/news/1?PHPSESSID=0123456789abcdef0123456789abcdef">With a session</a>',
            ),
            '/robots.txt' === $path => Response::of(
                'text/plain', "User-agent: *\nDisallow: /private/\nSitemap: http://maze.test/maps/index.xml\n",
            ),
            '/maps/index.xml' === $path => Response::of(
                'application/xml',
                '<sitemapindex'
                    .' xmlns="http://www.sitemaps.org/schemas/sitemap/0.9"><sitemap><loc>http://maze.test/maps/one.xml.gz</loc>'
                        .'</sitemap></sitemapindex>',
            ),
            '/maps/one.xml.gz' === $path => Response::of(
                'application/gzip',
                (string) gzencode(
                    '<urlset xmlns="http://www.sitemaps.org/schemas/sitemap/0.9"><url><loc>http://maze.test/only-in-map</loc></url><url>'
                        .'<loc>http://elsewhere.test/far</loc></url></urlset>',
                ),
            ),
            '/feed' === $path => Response::of(
                'application/atom+xml',
                '<feed xmlns="http://www.w3.org/2005/Atom"><entry><title>One</title><link href="/only-in-feed"/></entry></feed>',
            ),
            \in_array($path, ['/only-in-map', '/only-in-feed', '/new'], true) => Response::html(
                '<title>'.$path.'</title><p>Found at '.$path.' and nowhere else.',
            ),
            '/old' === $path => new Response(301, [['Location', '/new']], ''),
            '/paper.pdf' === $path => Response::of('application/pdf', '%PDF-1.4 a paper'),
            '/frames' === $path => Response::html('<title>Frames</title><iframe src="/framed"></iframe><p>Around the frame.'),
            '/framed' === $path => Response::html('<p>In the frame. <img src="/one.png">'),
            '/s.css' === $path => Response::of('text/css', 'body{background:url(ground.png)}'.str_repeat('.x{color:#123}', 100)),
            str_ends_with($path, 'ground.png'), '/one.png' === $path => Response::of('image/png', str_repeat('PNG?', 400).$path),
            1 === preg_match('#^/calendar/(\d+)/(\d+)$#', $path, $m) => $this->calendar((int) $m[1], (int) $m[2]),
            str_starts_with($path, '/round/') => Response::html(
                '<title>Round</title><p>Round and round, '.\strlen($path).'. <a href="round/">On</a>',
            ),
            str_starts_with($path, '/room/') => $this->room($path),
            '/private/x' === $path => Response::html('<title>Private</title>'),
            '/busy' === $path => new Response(503, [['Retry-After', '1'], ['Content-Type', 'text/html']], '<title>Busy</title>'),
            '/broken' === $path => Response::html('<title>Broken</title>', 500),
            default => Response::html('<title>No</title><p>There is nothing here.', 404),
        };
    }

    private function calendar(int $year, int $month): Response
    {
        $at = (new \DateTimeImmutable('2000-01-01'))->setDate($year, $month, 1);

        return Response::html(
            '<title>Calendar</title><h1>'.$at->format('F Y').'</h1><p>Nothing on in '.$at->format('F').'.</p><a href="/calendar/'
                .$at->modify('+1 month')->format('Y/m').'">Next</a><a href="/calendar/'.$at->modify('-1 month')->format('Y/m')
                .'">Before</a>',
        );
    }

    /** The same room under a new name each time it is entered. */
    private function room(string $path): Response
    {
        $links = '';
        for ($n = 0; $n < 3; ++$n) {
            $links .= '<a href="/room/'.substr(hash('sha256', $path.$n), 0, 16).'">Door</a> ';
        }

        return Response::html('<title>Room</title><p>A room like every other. '.$links);
    }

    /** Three hundred pages with some text each, ten links a page, so that they are worked at for a while. */
    private function many(string $path): Response
    {
        if ('/robots.txt' === $path || '/sitemap.xml' === $path) {
            return new Response(404, [['Content-Type', 'text/plain']], '');
        }
        $n = (int) substr($path, 1);
        $links = '';
        for ($k = 1; $k <= 10; ++$k) {
            $links .= $n * 10 + $k < 300 ? '<a href="/'.($n * 10 + $k).'">'.($n * 10 + $k).'</a> ' : '';
        }

        return Response::html(
            "<title>Page {$n}</title><p>{$links}<img src=\"/p".($n % 7).'.png">'.bin2hex(random_bytes(20))
                .str_repeat(" What page {$n} says.", 200),
        );
    }
}
