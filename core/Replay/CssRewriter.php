<?php

declare(strict_types=1);

namespace Ypomna\Core\Replay;

/**
 * Turns the references of a style sheet towards the archive: `url()`, `@import`, `image-set()` (CSS Syntax Level 3,
 * section 4; CSS Images Level 4, section 2.4). All else stays as it is, byte for byte.
 */
final readonly class CssRewriter
{
    private const STRING = '"(?:[^"\\\\\n]|\\\\[\s\S])*"|\'(?:[^\'\\\\\n]|\\\\[\s\S])*\'';

    public function __construct(private ReferenceMapper $mapper)
    {
    }

    public function rewrite(string $css): string
    {
        $out = preg_replace_callback(
            '~/\*.*?(?:\*/|\z)|\burl\(\s*(?:(?<quoted>'.self::STRING.')|(?<bare>[^\s"\'()]*+))\s*\)|@import\s+(?<import>'.self::STRING.')|\bimage-set\((?<set>(?:[^()]|\([^()]*\))*)\)|'.self::STRING.'~is',
            $this->token(...),
            $css,
            flags: \PREG_UNMATCHED_AS_NULL,
        );

        return $out ?? $css;
    }

    /**
     * @param array<array-key, string|null> $m
     */
    private function token(array $m): string
    {
        $all = (string) $m[0];
        foreach (['quoted', 'import'] as $group) {
            if (isset($m[$group])) {
                return str_replace($m[$group], $this->quoted($m[$group]), $all);
            }
        }
        if (isset($m['bare'])) {
            $mapped = $this->mapper->map(self::unescape($m['bare']));

            return '' === $m['bare'] || $mapped === self::unescape($m['bare']) ? $all : 'url("'.addcslashes($mapped, '"\\').'")';
        }
        if (isset($m['set'])) {
            $inner = $this->rewrite($m['set']);

            return 'image-set('.preg_replace_callback('~(?<![(\w])(?:'.self::STRING.')~s', fn (array $string): string => $this->quoted($string[0]), $inner).')';
        }

        return $all;
    }

    private function quoted(string $string): string
    {
        $value = self::unescape(substr($string, 1, -1));
        $mapped = $this->mapper->map($value);

        return $mapped === $value ? $string : '"'.addcslashes($mapped, '"\\').'"';
    }

    private static function unescape(string $text): string
    {
        if (!str_contains($text, '\\')) {
            return $text;
        }

        return (string) preg_replace_callback('/\\\\(?:([0-9a-f]{1,6})\s?|(\r\n|[\s\S]))/i', static function (array $m): string {
            if ('' !== $m[1]) {
                return (string) mb_chr((int) hexdec($m[1]), 'UTF-8');
            }

            return \in_array($m[2], ["\n", "\r\n"], true) ? '' : $m[2];
        }, $text);
    }
}
