<?php

declare(strict_types=1);

namespace Ypomna\Core\Fetch;

use Ypomna\Core\Address\AddressPattern;
use Ypomna\Core\Address\Url;

/**
 * The robots exclusion protocol (RFC 9309): which paths of a host a program is asked not to fetch.
 */
final readonly class Robots
{
    /** What a reader has to take at least (section 2.5), in bytes. */
    public const MAX_BYTES = 524_288;
    private const MAX_RULES = 5_000;

    /**
     * @param list<array{string, bool}> $rules pattern of a path, and whether it is allowed
     * @param list<string> $maps addresses of sitemaps, as written
     * @param bool $closed whether nothing may be fetched: the server fails (section 2.3.1.4)
     */
    private function __construct(private array $rules, public array $maps = [], private bool $closed = false, public ?float $delay = null)
    {
    }

    /** What an answer to a request for robots.txt means (section 2.3.1). */
    public static function answered(?int $status, string $text, string $agent): self
    {
        return match (true) {
            null === $status, $status >= 500 => new self([], [], true),
            $status >= 200 && $status < 300 => self::parse($text, $agent),
            default => new self([]),
        };
    }

    /**
     * @param string $agent product token, in letters and hyphens
     */
    public static function parse(string $text, string $agent): self
    {
        $agent = strtolower($agent);
        /** @var array<string, list<array{string, bool}>> $groups */
        $groups = [];
        $delays = $maps = $names = [];
        $count = 0;
        $inRules = true;
        foreach (explode(
            "\n", str_replace("\r", "\n", mb_scrub(substr((string) preg_replace('/^\xEF\xBB\xBF/', '', $text), 0, self::MAX_BYTES))),
        ) as $line) {
            [$name, $value] = explode(':', (string) preg_replace('/#.*$/', '', $line), 2) + [1 => ''];
            [$name, $value] = [strtolower(trim($name)), trim($value)];
            if ('user-agent' === $name) {
                $names = $inRules ? [] : $names;
                $inRules = false;
                $names[] = 1 === preg_match('/^[a-z_-]+/i', $value, $m) ? strtolower($m[0]) : $value;
                $groups += array_fill_keys($names, []);
            } elseif ('allow' === $name || 'disallow' === $name) {
                $inRules = true;
                foreach ('' === $value || ++$count > self::MAX_RULES ? [] : $names as $of) {
                    $groups[$of][] = [$value, 'allow' === $name];
                }
            } elseif ('crawl-delay' === $name && is_numeric($value)) {
                $inRules = true;
                foreach ($names as $of) {
                    $delays[$of] ??= max(0.0, min(300.0, (float) $value));
                }
            } elseif ('sitemap' === $name && '' !== $value && \count($maps) < 1_000) {
                $maps[] = $value;
            }
        }
        $of = isset($groups[$agent]) ? $agent : '*';

        return new self($groups[$of] ?? [], $maps, false, $delays[$of] ?? null);
    }

    /** The longest pattern that matches decides; of two as long, the one that allows (section 2.2.2). */
    public function allows(Url $url): bool
    {
        $target = self::normal($url->target());
        if ('/robots.txt' === $target) {
            return true;
        }
        $best = [-1, !$this->closed];
        foreach ($this->rules as [$pattern, $allowed]) {
            $pattern = self::normal($pattern);
            $length = \strlen($pattern);
            if (($length > $best[0] || ($length === $best[0] && $allowed)) && AddressPattern::fits($pattern, $target)) {
                $best = [$length, $allowed];
            }
        }

        return $best[1];
    }

    /** Percent-coding in one form: unreserved characters plain, all else that is no part of the syntax coded. */
    private static function normal(string $path): string
    {
        $path = (string) preg_replace_callback('/%([0-9a-f]{2})/i', static function (array $m): string {
            $sign = \chr((int) hexdec($m[1]));

            return 1 === preg_match('/[A-Za-z0-9._~-]/', $sign) ? $sign : '%'.strtoupper($m[1]);
        }, $path);

        return (string) preg_replace_callback('/[\x80-\xff]/', static fn (array $m): string => \sprintf('%%%02X', \ord($m[0])), $path);
    }
}
