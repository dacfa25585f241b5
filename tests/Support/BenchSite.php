<?php

declare(strict_types=1);

namespace Ypomna\Tests\Support;

use Ypomna\Standin\Site\Art;
use Ypomna\Standin\Web\Request;
use Ypomna\Standin\Web\Response;
use Ypomna\Standin\Web\Site;

/** A page of 68 requests, and 2,000 small pages that lead to each other; at addresses of this machine, so that any program finds it. */
final class BenchSite implements Site
{
    public const PAGES = 2_000;

    /** @var array<string, string> */
    private array $made = [];

    public function hosts(\DateTimeImmutable $now): array
    {
        return ['127.0.0.1', '127.77.0.1', 'bench.test'];
    }

    public function answer(Request $request): Response
    {
        if (1 === preg_match('#^/s/(\d+)$#', $request->path, $m)) {
            return self::small((int) $m[1]);
        }

        return match (true) {
            '/page' === $request->path => self::page(),
            str_ends_with($request->path, '.png') => Response::of('image/png', $this->picture(basename($request->path, '.png'))),
            '/a.css' === $request->path => Response::of('text/css', '@import "b.css";'.str_repeat('.a{color:#123}', 300)),
            str_ends_with($request->path, '.css') => Response::of(
                'text/css', 'body{background:url(ground.png)}'.str_repeat('.b{color:#123}', 300),
            ),
            str_ends_with($request->path, '.js') => Response::of(
                'text/javascript', 'window.n = (window.n || 0) + 1;'.str_repeat('// nothing'."\n", 300),
            ),
            '/robots.txt' === $request->path => new Response(404, [['Content-Type', 'text/plain']], ''),
            default => Response::html(
                '<title>Frame</title><p>A frame.<img src="/framed.png">', str_starts_with($request->path, '/frame') ? 200 : 404,
            ),
        };
    }

    private static function page(): Response
    {
        $html = '<!doctype html><html><head><meta charset="utf-8"><title>Sixty-eight</title><link rel="stylesheet" href="/a.css">';
        for ($n = 0; $n < 8; ++$n) {
            $html .= "<script src=\"/j{$n}.js\"></script>";
        }
        for ($n = 0; $n < 50; ++$n) {
            $html .= "<img src=\"/p{$n}.png\" width=\"100\" height=\"60\">";
        }
        for ($n = 0; $n < 4; ++$n) {
            $html .= "<iframe src=\"/frame{$n}\"></iframe>";
        }

        return Response::html($html.str_repeat('<p>'.str_repeat('The ferry left the harbour at six. ', 20), 40).'</body></html>');
    }

    private static function small(int $n): Response
    {
        $links = '';
        foreach ([2 * $n + 1, 2 * $n + 2, intdiv($n, 2)] as $other) {
            $links .= $other < self::PAGES ? "<a href=\"/s/{$other}\">Page {$other}</a> " : '';
        }

        return Response::html("<!doctype html><title>Page {$n}</title><p>{$links}".str_repeat("<p>Page {$n} says little. ", 40));
    }

    private function picture(string $name): string
    {
        return $this->made[$name] ??= Art::ship(
            200, 120, '#'.substr(hash('sha256', $name), 0, 6), strtoupper($name), (int) hexdec(substr(hash('sha256', $name), 0, 6)),
        );
    }
}
