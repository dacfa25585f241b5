<?php

declare(strict_types=1);

namespace Ypomna\Core\Http;

use Ypomna\Core\Address\Url;

/**
 * Cookies as servers set them and want them back (RFC 6265, sections 5.1 to 5.4), for as long as one visit lasts. A cookie for a
 * whole domain is taken only where that has at least two labels, and never for an address in numbers.
 */
final class CookieJar
{
    private const MOST = 300;
    private const MAX_BYTES = 8_192;

    /** @var array<string, array{name: string, value: string, domain: string, only: bool, path: string, secure: bool, until: int|null}> */
    private array $cookies = [];

    /**
     * @param list<string> $setCookie values of Set-Cookie fields
     */
    public function take(Url $from, array $setCookie, \DateTimeImmutable $now): void
    {
        foreach ($setCookie as $text) {
            $cookie = \strlen($text) > self::MAX_BYTES ? null : $this->parse($from, $text, $now);
            if (null === $cookie) {
                continue;
            }
            $key = $cookie['domain']."\0".$cookie['path']."\0".$cookie['name'];
            unset($this->cookies[$key]);
            if ((null === $cookie['until'] || $cookie['until'] > $now->getTimestamp()) && \count($this->cookies) < self::MOST) {
                $this->cookies[$key] = $cookie;
            }
        }
    }

    /** The value of the Cookie field for a request; null if there is none to send. */
    public function header(Url $to, \DateTimeImmutable $now): ?string
    {
        $host = (string) $to->host;
        $found = [];
        foreach ($this->cookies as $cookie) {
            $here = $host === $cookie['domain'] || (!$cookie['only'] && str_ends_with($host, '.'.$cookie['domain']));
            if ($here && self::below($to->path, $cookie['path']) && (!$cookie['secure'] || 'https' === $to->scheme) && (null === $cookie['until'] || $cookie['until'] > $now->getTimestamp())) {
                $found[] = $cookie;
            }
        }
        usort($found, static fn (array $a, array $b): int => \strlen($b['path']) <=> \strlen($a['path']));

        return [] === $found ? null : implode('; ', array_map(static fn (array $cookie): string => $cookie['name'].'='.$cookie['value'], $found));
    }

    /**
     * @return array{name: string, value: string, domain: string, only: bool, path: string, secure: bool, until: int|null}|null
     */
    private function parse(Url $from, string $text, \DateTimeImmutable $now): ?array
    {
        $pieces = explode(';', $text);
        [$name, $value] = array_map(trim(...), explode('=', array_shift($pieces), 2) + [1 => '']);
        if ('' === $name || 1 === preg_match('/[\x00-\x1f\x7f]/', $name.$value)) {
            return null;
        }
        $host = (string) $from->host;
        $cookie = ['name' => $name, 'value' => $value, 'domain' => $host, 'only' => true, 'path' => self::folder($from->path), 'secure' => false, 'until' => null];
        $age = false;
        foreach ($pieces as $piece) {
            [$attribute, $said] = array_map(trim(...), explode('=', $piece, 2) + [1 => '']);
            $attribute = strtolower($attribute);
            $domain = strtolower(ltrim($said, '.'));
            if ('domain' === $attribute && '' !== $domain && $domain !== $host) {
                if (!str_contains($domain, '.') || !str_ends_with($host, '.'.$domain) || false !== @inet_pton(trim($host, '[]'))) {
                    return null;
                }
                $cookie['domain'] = $domain;
            }
            $cookie['only'] = $cookie['only'] && !('domain' === $attribute && '' !== $domain);
            $cookie['secure'] = $cookie['secure'] || 'secure' === $attribute;
            if ('path' === $attribute && str_starts_with($said, '/')) {
                $cookie['path'] = $said;
            } elseif ('max-age' === $attribute && 1 === preg_match('/^-?\d{1,12}$/D', $said)) {
                $cookie['until'] = $now->getTimestamp() + (int) $said;
                $age = true;
            } elseif ('expires' === $attribute && !$age) {
                $cookie['until'] = self::expires($said) ?? $cookie['until'];
            }
        }

        return $cookie;
    }

    /** Dates of cookies come in more forms than others. */
    private static function expires(string $text): ?int
    {
        $at = HttpDate::parse($text) ?? HttpDate::parse((string) preg_replace('/^(\w{3}), (\d\d)-(\w{3})-(\d{4})/', '$1, $2 $3 $4', $text));

        return $at?->getTimestamp();
    }

    private static function folder(string $path): string
    {
        $last = strrpos($path, '/');

        return false === $last || 0 === $last ? '/' : substr($path, 0, $last);
    }

    private static function below(string $path, string $cookie): bool
    {
        return $path === $cookie || (str_starts_with($path, $cookie) && (str_ends_with($cookie, '/') || '/' === ($path[\strlen($cookie)] ?? '')));
    }
}
