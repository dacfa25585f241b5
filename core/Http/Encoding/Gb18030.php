<?php

declare(strict_types=1);

namespace Ypomna\Core\Http\Encoding;

/** The decoder of gb18030 and GBK, which also has characters of four bytes (Encoding Standard, section 10.2.1). */
final class Gb18030
{
    /** Pairs and single bytes; a character of four bytes; one cut off by the end; two bytes that begin one and do not go on. */
    private const TOKEN = '~\G(?:(?<pairs>(?:[\x00-\x80\xFF]++|[\x81-\xFE][^\x30-\x39])++)|(?<four>(?:[\x81-\xFE][\x30-\x39]){2})'
        .'|(?<cut>[\x81-\xFE](?:[\x30-\x39][\x81-\xFE]?)?\z)|[\x81-\xFE](?<back>[\x30-\x39]))~s';
    private const WRONG = "\u{FFFD}";
    private const LAST_OF_FIRST_PLANE = 39_419;
    private const FIRST_BEYOND = 189_000;
    private const LAST_BEYOND = 1_237_575;

    /** @var list<array{int, int|null}>|null */
    private static ?array $ranges = null;

    public static function decode(string $bytes): string
    {
        $map = Sequences::of('gb18030');
        $text = '';
        $at = 0;
        while (1 === preg_match(self::TOKEN, $bytes, $found, \PREG_UNMATCHED_AS_NULL, $at)) {
            $at += \strlen($found[0]);
            $text .= match (true) {
                isset($found['pairs']) => strtr($found['pairs'], $map),
                isset($found['four']) => self::four($found['four']),
                isset($found['back']) => self::WRONG.$found['back'],
                default => self::WRONG,
            };
        }

        return $text;
    }

    private static function four(string $bytes): string
    {
        $pointer = (\ord($bytes[0]) - 0x81) * 12_600 + (\ord($bytes[1]) - 0x30) * 1_260
            + (\ord($bytes[2]) - 0x81) * 10 + \ord($bytes[3]) - 0x30;
        $point = match (true) {
            $pointer >= self::FIRST_BEYOND && $pointer <= self::LAST_BEYOND => 0x10000 + $pointer - self::FIRST_BEYOND,
            $pointer <= self::LAST_OF_FIRST_PLANE => self::inFirstPlane($pointer),
            default => null,
        };

        return null === $point ? self::WRONG : (string) mb_chr($point, 'UTF-8');
    }

    private static function inFirstPlane(int $pointer): ?int
    {
        $ranges = self::$ranges ??= Tables::ranges();
        [$low, $high] = [0, \count($ranges) - 1];
        while ($low < $high) {
            $middle = intdiv($low + $high + 1, 2);
            [$low, $high] = $ranges[$middle][0] <= $pointer ? [$middle, $high] : [$low, $middle - 1];
        }
        [$first, $point] = $ranges[$low];

        return null === $point ? null : $point + $pointer - $first;
    }
}
