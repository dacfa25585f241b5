<?php

declare(strict_types=1);

namespace Ypomna\Core\Http\Encoding;

/**
 * Bytes of an encoding as text, to the letter of the Encoding Standard (WHATWG, sections 8 to 14): what is wrong becomes U+FFFD and costs
 * nothing beside it.
 */
final class Decoder
{
    private const WRONG = "\u{FFFD}";

    /**
     * @param string $encoding its name, as Labels gives it
     *
     * @return string valid UTF-8, without the byte order mark
     */
    public static function decode(string $bytes, string $encoding): string
    {
        return match ($encoding) {
            'utf-8' => self::utf8(str_starts_with($bytes, "\xEF\xBB\xBF") ? substr($bytes, 3) : $bytes),
            'utf-16le' => self::utf16(str_starts_with($bytes, "\xFF\xFE") ? substr($bytes, 2) : $bytes, 'v*'),
            'utf-16be' => self::utf16(str_starts_with($bytes, "\xFE\xFF") ? substr($bytes, 2) : $bytes, 'n*'),
            'replacement' => '' === $bytes ? '' : self::WRONG,
            'iso-2022-jp' => Iso2022Jp::decode($bytes),
            'gbk', 'gb18030' => self::isAscii($bytes) ? $bytes : Gb18030::decode($bytes),
            default => self::isAscii($bytes) ? $bytes : strtr($bytes, Sequences::of($encoding)),
        };
    }

    private static function isAscii(string $bytes): bool
    {
        return mb_check_encoding($bytes, 'ASCII');
    }

    private static function utf8(string $bytes): string
    {
        return mb_check_encoding($bytes, 'UTF-8') ? $bytes : self::withMark(static fn (): string => mb_scrub($bytes, 'UTF-8'));
    }

    /** @param 'v*'|'n*' $order of the two bytes */
    private static function utf16(string $bytes, string $order): string
    {
        $odd = 1 === \strlen($bytes) % 2;
        $bytes = $odd ? substr($bytes, 0, -1) : $bytes;
        $name = 'v*' === $order ? 'UTF-16LE' : 'UTF-16BE';
        if (mb_check_encoding($bytes, $name)) {
            return mb_convert_encoding($bytes, 'UTF-8', $name).($odd ? self::WRONG : '');
        }
        $text = '';
        $lead = null;
        foreach ((array) unpack($order, $bytes) as $unit) {
            $unit = \is_int($unit) ? $unit : 0;
            if (null !== $lead && $unit >= 0xDC00 && $unit <= 0xDFFF) {
                $text .= mb_chr(0x10000 + (($lead - 0xD800) << 10) + $unit - 0xDC00, 'UTF-8');
                $lead = null;
                continue;
            }
            $text .= null === $lead ? '' : self::WRONG;
            $lead = $unit >= 0xD800 && $unit <= 0xDBFF ? $unit : null;
            $text .= match (true) {
                null !== $lead => '',
                $unit >= 0xDC00 && $unit <= 0xDFFF => self::WRONG,
                default => mb_chr($unit, 'UTF-8'),
            };
        }

        // A lead and an odd byte that are both left over are one fault.
        return $text.(null !== $lead || $odd ? self::WRONG : '');
    }

    /** @param callable(): string $work for which a wrong byte becomes U+FFFD */
    private static function withMark(callable $work): string
    {
        $before = mb_substitute_character();
        mb_substitute_character(0xFFFD);
        try {
            return $work();
        } finally {
            mb_substitute_character($before);
        }
    }
}
