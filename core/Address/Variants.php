<?php

declare(strict_types=1);

namespace Ypomna\Core\Address;

/**
 * Other addresses that often lead to the same page, though nothing in the standards says so: for a search that found nothing.
 * The likeliest come first.
 */
final class Variants
{
    private const MOST = 60;
    private const INDEX = '~/(?:index|default|home)\.(?:html?|php|aspx?|jsp)$~i';
    /** What stands behind an address in running text, and was copied with it. */
    private const TAIL = '~(?:[.,;:!?)\]}>"\'»”’…]|%(?:22|27|3E|E2%80%9[D9]|C2%BB|E2%80%A6))+$~i';

    /**
     * @return list<Url> each other than the given one
     */
    public static function of(Url $url): array
    {
        if (null === $url->host) {
            return [];
        }
        $found = [];
        $paths = self::paths($url->path);
        $queries = self::queries($url->query);
        foreach (self::hosts($url->host) as $host) {
            // Two steps away from what was asked for is far enough: not every path with every query on every host.
            foreach ($paths as $p => $path) {
                foreach ($queries as $q => $query) {
                    if (\count($found) < self::MOST && ($host === $url->host ? 0 : 1) + ($p > 0 ? 1 : 0) + ($q > 0 ? 1 : 0) <= 2) {
                        $variant = Url::tryParse(
                            $url->scheme.'://'.$host.(null === $url->port ? '' : ':'.$url->port).$path.(null === $query ? '' : '?'.$query),
                        );
                        if (null !== $variant) {
                            $found[(string) $variant] = $variant;
                        }
                    }
                }
            }
        }
        unset($found[(string) $url->withoutFragment()]);

        return array_values($found);
    }

    /**
     * @return list<string> the given one first
     */
    private static function hosts(string $host): array
    {
        $hosts = [$host];
        if (1 === preg_match('/^(?:m|mobile|amp)\.(.+\..+)$/', $host, $m)) {
            $hosts[] = $m[1];
        } elseif (!str_starts_with($host, '[') && false === ip2long($host)) {
            $hosts[] = 'm.'.(string) preg_replace('/^www\./', '', $host);
        }

        return $hosts;
    }

    /**
     * @return list<string>
     */
    private static function paths(string $path): array
    {
        $trimmed = (string) preg_replace(self::TAIL, '', $path);
        $paths = [$path, $trimmed];
        foreach (['' === $trimmed ? '/' : $trimmed] as $plain) {
            $folder = 1 === preg_match(self::INDEX, $plain) ? (string) preg_replace(self::INDEX, '/', $plain) : $plain;
            array_push($paths, $folder, str_ends_with($folder, '/') ? rtrim($folder, '/') : $folder.'/');
            array_push(
                $paths, (string) preg_replace('~/{2,}~', '/', $plain), rawurldecode($plain), str_replace('+', '%20', $plain),
                str_replace('%20', '+', $plain), strtolower($plain),
            );
            $paths[] = (string) preg_replace('~\.(?:html?|php|aspx?)$~i', '', $plain);
            if (1 !== preg_match('~(?:/|\.[a-z0-9]{1,5})$~i', $plain)) {
                array_push($paths, $plain.'.html', $plain.'.htm', $plain.'/index.html');
            } elseif (str_ends_with($plain, '/')) {
                array_push($paths, $plain.'index.html', $plain.'index.php');
            }
            array_push($paths, (string) preg_replace('~/amp/?$~', '', $plain), rtrim($plain, '/').'/amp');
        }

        return array_values(array_unique(array_map(static fn (string $one): string => '' === $one ? '/' : $one, $paths)));
    }

    /**
     * @return list<string|null>
     */
    private static function queries(?string $query): array
    {
        if (null === $query) {
            return [null];
        }
        $trimmed = (string) preg_replace(self::TAIL, '', $query);
        $queries = [$query, '' === $trimmed ? null : $trimmed, null];
        $pairs = explode('&', $trimmed);
        foreach (\count($pairs) > 1 && \count($pairs) < 8 ? array_keys($pairs) : [] as $left) {
            $queries[] = implode('&', array_values(array_diff_key($pairs, [$left => true])));
        }

        return array_values(array_unique($queries, \SORT_REGULAR));
    }
}
