<?php

declare(strict_types=1);

namespace Ypomna\Core\Crawl;

use Ypomna\Core\Address\Url;

/** Ways in which a site has no end: paths that go round, and kinds of addresses that differ in numbers, dates or tokens alone. */
final class Traps
{
    private const LONGEST = 2_000;
    private const MOST_SEGMENTS = 30;
    /** As often may a piece of a path follow on itself. */
    private const REPEATS = 2;
    /** A token: what no person wrote. */
    private const TOKEN = '/^(?:(?=[^\W_]*\d)(?=[^\W_]*[a-z])[0-9a-f]{8,}|(?=(?:.*\d){3})(?=.*[a-z])[a-z0-9_-]{12,}|'
        .'[0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12})$/iD';

    /** A path that is too long to be one, or in which one or several pieces follow on themselves again and again; numbers may. */
    public static function isEndless(Url $url): bool
    {
        if (\strlen($url->target()) > self::LONGEST) {
            return true;
        }
        $segments = array_values(array_filter(explode('/', $url->path), static fn (string $segment): bool => '' !== $segment));
        $count = \count($segments);
        if ($count > self::MOST_SEGMENTS) {
            return true;
        }
        for ($period = 1; $period * (self::REPEATS + 1) <= $count; ++$period) {
            $same = 0;
            $words = false;
            for ($n = $period; $n < $count; ++$n) {
                $same = $segments[$n] === $segments[$n - $period] ? $same + 1 : 0;
                $words = $same > 0 && ($words && $same > 1 || 1 === preg_match('/\D/', $segments[$n]));
                if ($words && $same >= $period * self::REPEATS) {
                    return true;
                }
            }
        }

        return false;
    }

    /**
     * What addresses have in common that differ in numbers, dates and tokens alone.
     *
     * @return string|null null if nothing of that kind is in it
     */
    public static function kind(Url $url): ?string
    {
        $path = implode('/', array_map(self::plain(...), explode('/', $url->path)));
        $query = [];
        foreach (null === $url->query || '' === $url->query ? [] : \array_slice(explode('&', $url->query), 0, 50) as $pair) {
            [$name, $value] = explode('=', $pair, 2) + [1 => ''];
            $query[] = $name.'='.self::plain(rawurldecode($value));
        }
        sort($query);
        $kind = $url->authority().$path.([] === $query ? '' : '?'.implode('&', $query));

        return $kind === $url->authority().$url->path && null === $url->query ? null : $kind;
    }

    private static function plain(string $piece): string
    {
        return 1 === preg_match(self::TOKEN, $piece) ? '*' : (string) preg_replace('/\d+/', '0', $piece);
    }
}
