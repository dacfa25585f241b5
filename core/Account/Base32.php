<?php

declare(strict_types=1);

namespace Ypomna\Core\Account;

/** Bytes in 32 letters and figures (RFC 4648, clause 6), without padding. */
final class Base32
{
    private const ALPHABET = 'ABCDEFGHIJKLMNOPQRSTUVWXYZ234567';

    public static function encode(#[\SensitiveParameter] string $bytes): string
    {
        $text = '';
        $bits = 0;
        $held = 0;
        foreach (str_split($bytes) as $byte) {
            $held = ($held << 8 | \ord($byte)) & 0xFFF;
            for ($bits += 8; $bits >= 5; $bits -= 5) {
                $text .= self::ALPHABET[$held >> $bits - 5 & 31];
            }
        }

        return '' === $bytes ? '' : ($bits > 0 ? $text.self::ALPHABET[$held << 5 - $bits & 31] : $text);
    }
}
