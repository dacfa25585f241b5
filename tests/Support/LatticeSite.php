<?php

declare(strict_types=1);

namespace Ypomna\Tests\Support;

use Ypomna\Standin\Web\Request;
use Ypomna\Standin\Web\Response;
use Ypomna\Standin\Web\Site;

/**
 * Many small hosts with a few pages each: some slow, some that never answer, some whose pages are gone. Each request is
 * written down (REQUESTS_LOG): moment, host, path, seconds until its answer.
 */
final class LatticeSite implements Site
{
    public const HOSTS = 200;
    public const PAGES = 5;
    private const SLOW = 4.0;
    private const NEVER = 3_600.0;

    public function hosts(\DateTimeImmutable $now): array
    {
        return array_map(static fn (int $n): string => "h{$n}.refs.test", range(0, self::HOSTS - 1));
    }

    public function answer(Request $request): Response
    {
        $number = (int) substr($request->host, 1);
        $delay = self::delay($number);
        $log = getenv('REQUESTS_LOG');
        if (\is_string($log) && '' !== $log) {
            file_put_contents($log, \sprintf("%.3f %s %s %.1f\n", microtime(true), $request->host, $request->path, $delay), \FILE_APPEND);
        }
        if (1 !== preg_match('#^/p/(\d+)$#', $request->path, $m) || (int) $m[1] >= self::PAGES) {
            return Response::html('<title>Not found</title><h1>Not found</h1>', 404)->after($delay);
        }
        $page = (int) $m[1];
        if (4 === $page && 0 === $number % 2) {
            return Response::html('<title>Gone</title><p>Gone.', 410)->after($delay);
        }
        $text = str_repeat(
            "The log of berth {$number} has entry {$page}: the tide stood at ".(3 + $page)
                .' metres when the ferry came in, and the watch wrote it down. ',
            9,
        );

        return Response::html(
            "<title>Entry {$page} of berth {$number}</title><nav><a href=/>Home</a></nav><article><h1>Entry {$page}</h1><p>{$text}</p>"
                .'</article>',
        )->after($delay);
    }

    public static function delay(int $host): float
    {
        return 7 === $host % 20 ? self::NEVER : (0 === $host % 5 ? self::SLOW : 0.02);
    }
}
