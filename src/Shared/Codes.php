<?php

declare(strict_types=1);

namespace Ypomna\App\Shared;

/** The short opaque names in this application's addresses: 60 bits of a digest, in letters and figures that are not mistaken. */
final class Codes
{
    public const PATTERN = '[2-9a-hjkmnp-z]{12}';
    private const ALPHABET = '23456789abcdefghjkmnpqrstuvwxyz';
    private const LENGTH = 12;

    /** Always the same code for the same text. */
    public static function of(string $text): string
    {
        $bytes = hash('sha256', $text, true);
        $code = '';
        for ($i = 0; \strlen($code) < self::LENGTH; ++$i) {
            // 31 letters: a byte's share above the last multiple of 31 is passed over.
            $byte = \ord($bytes[$i % 32]) ^ intdiv($i, 32);
            if ($byte < 248 || $i > 200) {
                $code .= self::ALPHABET[$byte % 31];
            }
        }

        return $code;
    }

    public static function random(): string
    {
        return self::of(random_bytes(32));
    }
}
