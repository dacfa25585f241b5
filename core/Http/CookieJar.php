<?php

declare(strict_types=1);

namespace Ypomna\Core\Http;

use Ypomna\Core\Address\Url;

/**
 * Cookies as servers set them and want them back, for as long as one visit lasts (RFC 6265, sections 5.1 to 5.4; where browsers have
 * moved on, its revision draft-ietf-httpbis-rfc6265bis: cookies without a name, prefixes, Secure only over TLS). A cookie for a whole
 * domain is taken only where that has at least two labels, and never for an address in numbers.
 */
final class CookieJar
{
    private const MOST = 300;
    private const MAX_BYTES = 16_384;
    /** Of a name with its value, and of the value of an attribute. */
    private const MOST_BYTES = 4_096;
    private const MOST_IN_ATTRIBUTE = 1_024;
    private const LONGEST_AGE = 400 * 86_400;

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
            if (null !== $cookie['until'] && $cookie['until'] <= $now->getTimestamp()) {
                unset($this->cookies[$key]);
            } elseif (isset($this->cookies[$key]) || \count($this->cookies) < self::MOST) {
                // One that is set again keeps its place.
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
            if ($here && self::below($to->path, $cookie['path']) && (!$cookie['secure'] || 'https' === $to->scheme)
                && (null === $cookie['until'] || $cookie['until'] > $now->getTimestamp())) {
                $found[] = $cookie;
            }
        }
        usort($found, static fn (array $a, array $b): int => \strlen($b['path']) <=> \strlen($a['path']));

        $pairs = [];
        foreach ($found as $cookie) {
            $pairs[] = ('' === $cookie['name'] ? '' : $cookie['name'].'=').$cookie['value'];
        }

        return [] === $pairs ? null : implode('; ', $pairs);
    }

    /**
     * @return array{name: string, value: string, domain: string, only: bool, path: string, secure: bool, until: int|null}|null
     */
    private function parse(Url $from, string $text, \DateTimeImmutable $now): ?array
    {
        if (1 === preg_match('/[\x00-\x08\x0A-\x1F\x7F]/', $text)) {
            return null;
        }
        $pieces = explode(';', $text);
        $pair = array_shift($pieces);
        [$name, $value] = array_map(self::trimmed(...), str_contains($pair, '=') ? explode('=', $pair, 2) : ['', $pair]);
        if ('' === $name.$value || \strlen($name.$value) > self::MOST_BYTES) {
            return null;
        }
        $said = self::attributes($pieces);
        $host = (string) $from->host;
        $domain = strtolower((string) preg_replace('/^\./', '', $said['domain'] ?? ''));
        $path = $said['path'] ?? '';
        $cookie = [
            'name' => $name, 'value' => $value, 'domain' => '' === $domain ? $host : $domain, 'only' => '' === $domain,
            'path' => str_starts_with($path, '/') ? $path : self::folder($from->path), 'secure' => isset($said['secure']),
            'until' => match (true) {
                isset($said['max-age']) => $now->getTimestamp() + (int) $said['max-age'],
                isset($said['expires']) => (int) $said['expires'],
                default => null,
            },
        ];
        $isSecure = 'https' === $from->scheme;

        $isAllowed = self::mayBeSetFor($domain, $host) && self::keepsItsPrefix($cookie, $path, $isSecure)
            && ($isSecure || (!$cookie['secure'] && !$this->covers($cookie)));

        return $isAllowed ? $cookie : null;
    }

    /**
     * @param list<string> $pieces
     *
     * @return array<string, string> of each attribute the last that can be read, those of time as seconds
     */
    private static function attributes(array $pieces): array
    {
        $said = [];
        foreach ($pieces as $piece) {
            [$attribute, $value] = array_map(self::trimmed(...), explode('=', $piece, 2) + [1 => '']);
            if (\strlen($value) > self::MOST_IN_ATTRIBUTE) {
                continue;
            }
            $attribute = strtolower($attribute);
            $read = match ($attribute) {
                'max-age' => 1 === preg_match('/^-?\d+$/D', $value) ? (string) min(self::LONGEST_AGE, max(-1, (int) $value)) : null,
                'expires' => self::number(CookieDate::parse($value)),
                default => $value,
            };
            if (null !== $read) {
                $said[$attribute] = $read;
            }
        }

        return $said;
    }

    private static function number(?int $seconds): ?string
    {
        return null === $seconds ? null : (string) $seconds;
    }

    private static function trimmed(string $text): string
    {
        return trim($text, " \t");
    }

    private static function mayBeSetFor(string $domain, string $host): bool
    {
        return '' === $domain || $domain === $host
            || (str_contains($domain, '.') && str_ends_with($host, '.'.$domain) && false === @inet_pton(trim($host, '[]')));
    }

    /**
     * @param array{name: string, value: string, domain: string, only: bool, path: string, secure: bool, until: int|null} $cookie
     * @param string $path as it was written
     */
    private static function keepsItsPrefix(array $cookie, string $path, bool $isSecure): bool
    {
        $name = '' === $cookie['name'] ? $cookie['value'] : $cookie['name'];
        $prefix = 1 === preg_match('/^__(secure|host)-/i', $name, $m) ? strtolower($m[1]) : '';

        return match (true) {
            '' === $prefix => true,
            // Without a name it would come back as if it had that one.
            '' === $cookie['name'] => false,
            'secure' === $prefix => $cookie['secure'] && $isSecure,
            default => $cookie['secure'] && $isSecure && $cookie['only'] && '/' === $path,
        };
    }

    /**
     * Whether one that was set over TLS would be hidden by it.
     *
     * @param array{name: string, value: string, domain: string, only: bool, path: string, secure: bool, until: int|null} $cookie
     */
    private function covers(array $cookie): bool
    {
        foreach ($this->cookies as $other) {
            [$one, $two] = [$other['domain'], $cookie['domain']];
            $meet = $one === $two || str_ends_with($one, '.'.$two) || str_ends_with($two, '.'.$one);
            if ($meet && $other['secure'] && $other['name'] === $cookie['name'] && self::below($cookie['path'], $other['path'])) {
                return true;
            }
        }

        return false;
    }

    private static function folder(string $path): string
    {
        $last = strrpos($path, '/');

        return false === $last || 0 === $last ? '/' : substr($path, 0, $last);
    }

    private static function below(string $path, string $cookie): bool
    {
        return $path === $cookie
            || (str_starts_with($path, $cookie) && (str_ends_with($cookie, '/') || '/' === ($path[\strlen($cookie)] ?? '')));
    }
}
