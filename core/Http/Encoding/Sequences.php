<?php

declare(strict_types=1);

namespace Ypomna\Core\Http\Encoding;

/**
 * For the encodings without a state: what each sequence of bytes stands for, sequences that are wrong among them, so that the longest
 * one known at each place is always the next. A wrong pair whose second byte is ASCII gives that byte back (Encoding Standard, section 10
 * to 14: "if byte is an ASCII byte, restore byte"), so it stands for U+FFFD and that byte.
 */
final class Sequences
{
    /** How many maps are kept: the largest takes 7 MB. */
    private const KEPT = 2;
    private const WRONG = "\u{FFFD}";

    /** @var array<string, array<string, string>> */
    private static array $maps = [];

    /** @return array<string, string> what strtr() takes */
    public static function of(string $encoding): array
    {
        if (!isset(self::$maps[$encoding])) {
            $map = match ($encoding) {
                'big5' => self::big5(),
                'euc-kr' => self::pairs(
                    range(0x81, 0xFE), Tables::index('euc-kr'),
                    static fn (int $lead, int $trail): ?int => $trail < 0x41 || 0xFF === $trail
                    ? null : ($lead - 0x81) * 190 + $trail - 0x41),
                'gb18030', 'gbk' => ["\x80" => '€'] + self::pairs(range(0x81, 0xFE), Tables::index('gb18030'), self::gb18030(...)),
                'shift_jis' => self::shiftJis(),
                'euc-jp' => self::eucJp(),
                default => self::singleByte($encoding),
            };
            self::$maps = \array_slice([$encoding => $map] + self::$maps, 0, self::KEPT);
        }

        return self::$maps[$encoding];
    }

    /** @return array<string, string> */
    private static function singleByte(string $encoding): array
    {
        $map = [];
        if ('x-user-defined' === $encoding) {
            for ($byte = 0x80; $byte < 0x100; ++$byte) {
                $map[\chr($byte)] = (string) mb_chr(0xF780 + $byte - 0x80, 'UTF-8');
            }

            return $map;
        }
        foreach (Tables::singleByte('iso-8859-8-i' === $encoding ? 'iso-8859-8' : $encoding) as $at => $character) {
            $map[\chr(0x80 + $at)] = $character;
        }

        return $map;
    }

    /** @return array<string, string> */
    private static function big5(): array
    {
        $pairs = self::pairs(range(0x81, 0xFE), Tables::index('big5'), static fn (int $lead, int $trail): ?int => match (true) {
            $trail >= 0x40 && $trail <= 0x7E => ($lead - 0x81) * 157 + $trail - 0x40,
            $trail >= 0xA1 && $trail <= 0xFE => ($lead - 0x81) * 157 + $trail - 0x62,
            default => null,
        });

        // Four that are a letter and a sign above it.
        return [
            "\x88\x62" => "\u{CA}\u{304}", "\x88\x64" => "\u{CA}\u{30C}", "\x88\xA3" => "\u{EA}\u{304}", "\x88\xA5" => "\u{EA}\u{30C}",
        ] + $pairs;
    }

    /** @return array<string, string> */
    private static function shiftJis(): array
    {
        $index = Tables::index('jis0208');
        for ($pointer = 8836; $pointer <= 10715; ++$pointer) {
            $index[$pointer] = (string) mb_chr(0xE000 - 8836 + $pointer, 'UTF-8');
        }
        $pairs = self::pairs([...range(0x81, 0x9F), ...range(0xE0, 0xFC)], $index, static fn (int $lead, int $trail): ?int => match (true) {
            $trail < 0x40 || 0x7F === $trail || $trail > 0xFC => null,
            default => ($lead - ($lead < 0xA0 ? 0x81 : 0xC1)) * 188 + $trail - ($trail < 0x7F ? 0x40 : 0x41),
        });

        return ["\x80" => "\u{80}"] + self::halfWidth('') + $pairs;
    }

    /** @return array<string, string> */
    private static function eucJp(): array
    {
        $plane = static fn (int $lead, int $trail): ?int => $lead < 0xA1 || $trail < 0xA1 || 0xFF === $trail
            ? null : ($lead - 0xA1) * 94 + $trail - 0xA1;
        $further = [];
        foreach (self::pairs(range(0xA1, 0xFE), Tables::index('jis0212'), $plane) as $sequence => $character) {
            if (!isset($sequence[0]) || \ord($sequence[0]) < 0xA1 || \ord($sequence[0]) > 0xFE) {
                continue;
            }
            $further["\x8F".$sequence] = $character;
        }

        return $further + self::halfWidth("\x8E") + self::pairs([0x8E, 0x8F, ...range(0xA1, 0xFE)], Tables::index('jis0208'), $plane);
    }

    /** @return array<string, string> the half-width katakana */
    private static function halfWidth(string $lead): array
    {
        $map = [];
        for ($byte = 0xA1; $byte <= 0xDF; ++$byte) {
            $map[$lead.\chr($byte)] = (string) mb_chr(0xFF61 + $byte - 0xA1, 'UTF-8');
        }

        return $map;
    }

    private static function gb18030(int $lead, int $trail): ?int
    {
        return $trail < 0x40 || 0x7F === $trail || 0xFF === $trail ? null : ($lead - 0x81) * 190 + $trail - ($trail < 0x7F ? 0x40 : 0x41);
    }

    /**
     * @param list<int> $leads
     * @param array<int, string> $index
     * @param callable(int, int): ?int $pointer
     *
     * @return array<string, string>
     */
    private static function pairs(array $leads, array $index, callable $pointer): array
    {
        $map = [];
        for ($byte = 0x80; $byte < 0x100; ++$byte) {
            $map[\chr($byte)] = self::WRONG;
        }
        foreach ($leads as $lead) {
            for ($trail = 0; $trail < 0x100; ++$trail) {
                $at = $pointer($lead, $trail);
                $character = null === $at ? null : $index[$at] ?? null;
                $map[\chr($lead).\chr($trail)] = $character ?? self::WRONG.($trail < 0x80 ? \chr($trail) : '');
            }
        }

        return $map;
    }
}
