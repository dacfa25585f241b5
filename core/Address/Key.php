<?php

declare(strict_types=1);

namespace Ypomna\Core\Address;

/**
 * The sort key of an address: two addresses that lead to the same page have the same one.
 *
 * Form: host labels from the right, each ended by `!` but the last, which a blank ends; then `:port` if it is
 * not the usual one; then path and query: `test!lantern!cdn /a/b?x=1`. Blank and `!` sort before every byte of a
 * label, so a host stands together, its subdomains right behind it, and a folder is one range of keys.
 * Normalisation: RFC 3986 section 6.2.2 and 6.2.3, plus the equalities that readers expect (http and https,
 * leading `www.`, order of parameters, session and tracking parameters by {@see KeyRules}).
 */
final class Key
{
    private const SESSION_IN_PATH = '/;([a-z]+)=([^;\/?]*)/i';

    /** @param KeyRules|null $rules null for those that ship */
    public static function of(Url $url, ?KeyRules $rules = null): string
    {
        $rules ??= KeyRules::shipped();
        if (null === $url->host) {
            return '~'.$url->scheme.':'.self::normalise($url->target());
        }
        $port = null === $url->port ? '' : ':'.$url->port;
        $scheme = $url->isWeb() ? '' : '~'.$url->scheme;

        return self::hostKey($url->host).' '.$port.$scheme.self::path($url, $rules).self::query($url, $rules);
    }

    /** What every key of a host begins with. */
    public static function hostPrefix(Url $url): string
    {
        return self::hostKey((string) $url->host).' ';
    }

    /** What every key of the folder begins with that the address lies in. */
    public static function folderPrefix(Url $url, ?KeyRules $rules = null): string
    {
        $path = self::path($url, $rules ?? KeyRules::shipped());

        return self::hostPrefix($url).(null === $url->port ? '' : ':'.$url->port).substr($path, 0, (int) strrpos($path, '/') + 1);
    }

    /** The address as it is shown for its key: the spelling with the least in it. */
    public static function canonical(Url $url, ?KeyRules $rules = null): string
    {
        $rules ??= KeyRules::shipped();
        if (null === $url->host) {
            return $url->scheme.':'.self::normalise($url->target());
        }

        return $url->scheme.'://'.self::plainHost($url->host).(null === $url->port ? '' : ':'.$url->port)
            .self::path($url, $rules).self::query($url, $rules);
    }

    private static function hostKey(string $host): string
    {
        $host = self::plainHost($host);
        if (str_starts_with($host, '[') || false !== ip2long($host)) {
            return $host;
        }

        return implode('!', array_reverse(explode('.', $host)));
    }

    private static function plainHost(string $host): string
    {
        $host = rtrim($host, '.');
        $rest = str_starts_with($host, 'www.') ? substr($host, 4) : '';

        return str_contains($rest, '.') ? $rest : $host;
    }

    private static function path(Url $url, KeyRules $rules): string
    {
        $path = !str_contains($url->path, ';') ? $url->path : (string) preg_replace_callback(
            self::SESSION_IN_PATH,
            static fn (array $m): string => $rules->drops($m[1], $m[2], $url->host) ? '' : $m[0],
            $url->path,
        );

        return self::normalise('' === $path ? '/' : $path);
    }

    private static function query(Url $url, KeyRules $rules): string
    {
        if (null === $url->query || '' === $url->query) {
            return '';
        }
        $kept = [];
        foreach (explode('&', $url->query) as $i => $pair) {
            [$name, $value] = explode('=', $pair, 2) + [1 => ''];
            $name = self::normalise($name);
            if ('' !== $pair && !$rules->drops($name, $value, $url->host)) {
                $kept[] = [$name, $i, self::normalise($pair)];
            }
        }
        // Parameters of one name keep their order: there it has a meaning.
        if (!$rules->areOrdered($url->host)) {
            usort($kept, static fn (array $a, array $b): int => 0 !== strcmp($a[0], $b[0]) ? strcmp($a[0], $b[0]) : $a[1] <=> $b[1]);
        }

        return [] === $kept ? '' : '?'.implode('&', array_column($kept, 2));
    }

    /** Coded unreserved characters decoded, all other codes in upper case; a stroke is coded, since some browsers code it in paths. */
    private static function normalise(string $text): string
    {
        return (string) preg_replace_callback('/%([0-9a-f]{2})/i', static function (array $m): string {
            $byte = \chr((int) hexdec($m[1]));

            return 1 === preg_match('/[A-Za-z0-9._~-]/', $byte) ? $byte : strtoupper($m[0]);
        }, strtr($text, ['|' => '%7C']));
    }
}
