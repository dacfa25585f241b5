<?php

declare(strict_types=1);

namespace Ypomna\Core\Html;

/** Character references (HTML Living Standard, sections 13.2.5.72 to 13.2.5.80), with the old names that need no semicolon. */
final class CharacterReferences
{
    /** What the numbers 128 to 159 stand for, as in windows-1252. */
    private const C1 = [
        0x80 => 0x20AC, 0x82 => 0x201A, 0x83 => 0x0192, 0x84 => 0x201E, 0x85 => 0x2026, 0x86 => 0x2020, 0x87 => 0x2021, 0x88 => 0x02C6,
        0x89 => 0x2030, 0x8A => 0x0160, 0x8B => 0x2039, 0x8C => 0x0152, 0x8E => 0x017D,
        0x91 => 0x2018, 0x92 => 0x2019, 0x93 => 0x201C, 0x94 => 0x201D, 0x95 => 0x2022, 0x96 => 0x2013, 0x97 => 0x2014, 0x98 => 0x02DC,
        0x99 => 0x2122, 0x9A => 0x0161, 0x9B => 0x203A, 0x9C => 0x0153, 0x9E => 0x017E, 0x9F => 0x0178,
    ];

    /** @param string $text UTF-8 */
    public static function inText(string $text): string
    {
        return str_contains($text, '&') ? self::decoded($text, false) : $text;
    }

    /** In a value, an old name that goes on or is followed by `=` is part of an address. */
    public static function inValue(string $value): string
    {
        return str_contains($value, '&') ? self::decoded($value, true) : $value;
    }

    private static function decoded(string $text, bool $inValue): string
    {
        return (string) preg_replace_callback(
            '/&(?:#[xX]([0-9a-fA-F]++);?|#([0-9]++);?|([A-Za-z][A-Za-z0-9]*+)(;?)(=?))/',
            static function (array $m) use ($inValue): string {
                if (isset($m[3])) {
                    return self::named($m[3], $m[4], $m[5], $inValue) ?? $m[0];
                }
                $digits = ltrim($m[2] ?? $m[1], '0');

                return self::character(\strlen($digits) > 8 ? 0 : (isset($m[2]) ? (int) $digits : (int) hexdec($digits)));
            }, $text);
    }

    private static function named(string $name, string $semicolon, string $equals, bool $inValue): ?string
    {
        if ('' !== $semicolon) {
            $whole = "&{$name};";
            $decoded = html_entity_decode($whole, \ENT_QUOTES | \ENT_HTML5, 'UTF-8');
            if ($decoded !== $whole) {
                return $decoded.$equals;
            }
        }
        $old = self::oldNames();
        for ($length = min(6, \strlen($name)); $length > 1; --$length) {
            $character = $old[substr($name, 0, $length)] ?? null;
            if (null !== $character) {
                $rest = substr($name, $length);

                return $inValue && ('' !== $rest || ('' === $semicolon && '' !== $equals)) ? null : $character.$rest.$semicolon.$equals;
            }
        }

        return null;
    }

    private static function character(int $code): string
    {
        $code = self::C1[$code] ?? $code;

        return 0 === $code || $code > 0x10FFFF || ($code >= 0xD800 && $code <= 0xDFFF) ? "\u{FFFD}" : (string) mb_chr($code, 'UTF-8');
    }

    /**
     * @return array<string, string> the names of the first 256 characters, which need no semicolon
     */
    private static function oldNames(): array
    {
        static $names = null;
        if (!\is_array($names)) {
            $names = ['AMP' => '&', 'LT' => '<', 'GT' => '>', 'QUOT' => '"', 'COPY' => '©', 'REG' => '®'];
            foreach (get_html_translation_table(\HTML_ENTITIES, \ENT_COMPAT | \ENT_HTML401, 'UTF-8') as $character => $entity) {
                if (mb_ord($character, 'UTF-8') < 256) {
                    $names[trim($entity, '&;')] = $character;
                }
            }
        }

        /** @var array<string, string> $names */
        return $names;
    }
}
