<?php

declare(strict_types=1);

namespace Ypomna\Core\Http\Encoding;

/** The decoder of ISO-2022-JP, whose escapes switch between sets of characters (Encoding Standard, section 12.2.1). */
final class Iso2022Jp
{
    private const WRONG = "\u{FFFD}";
    private const ESCAPE = 0x1B;

    private const ASCII = 0;
    private const ROMAN = 1;
    private const KATAKANA = 2;
    private const LEAD = 3;

    private const SETS = ['(B' => self::ASCII, '(J' => self::ROMAN, '(I' => self::KATAKANA, '$@' => self::LEAD, '$B' => self::LEAD];

    public static function decode(string $bytes): string
    {
        $text = '';
        $index = null;
        $set = self::ASCII;
        // Two escapes with nothing between them are a fault: the first switched for nothing.
        $switched = false;
        $end = \strlen($bytes);
        for ($at = 0; $at < $end; ++$at) {
            $byte = \ord($bytes[$at]);
            if (self::ESCAPE === $byte) {
                $next = self::SETS[substr($bytes, $at + 1, 2)] ?? null;
                $text .= null === $next || $switched ? self::WRONG : '';
                $switched = null !== $next;
                $set = $next ?? $set;
                $at += null === $next ? 0 : 2;
                continue;
            }
            $switched = false;
            if (self::LEAD === $set) {
                $index ??= Tables::index('jis0208');
                [$character, $at] = self::pair($bytes, $at, $index);
                $text .= $character;
                continue;
            }
            $text .= self::single($byte, $set);
        }

        return $text;
    }

    private static function single(int $byte, int $set): string
    {
        return match (true) {
            self::KATAKANA === $set => $byte >= 0x21 && $byte <= 0x5F ? (string) mb_chr(0xFF61 + $byte - 0x21, 'UTF-8') : self::WRONG,
            $byte > 0x7F || 0x0E === $byte || 0x0F === $byte => self::WRONG,
            self::ROMAN === $set && 0x5C === $byte => '¥',
            self::ROMAN === $set && 0x7E === $byte => '‾',
            default => \chr($byte),
        };
    }

    /**
     * @param array<int, string> $index
     *
     * @return array{string, int} a character, and where its last byte stands
     */
    private static function pair(string $bytes, int $at, array $index): array
    {
        $lead = \ord($bytes[$at]);
        if ($lead < 0x21 || $lead > 0x7E) {
            return [self::WRONG, $at];
        }
        $trail = isset($bytes[$at + 1]) ? \ord($bytes[$at + 1]) : self::ESCAPE;
        if (self::ESCAPE === $trail) {
            return [self::WRONG, $at];
        }
        if ($trail < 0x21 || $trail > 0x7E) {
            return [self::WRONG, $at + 1];
        }

        return [$index[($lead - 0x21) * 94 + $trail - 0x21] ?? self::WRONG, $at + 1];
    }
}
