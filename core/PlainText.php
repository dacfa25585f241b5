<?php

declare(strict_types=1);

namespace Ypomna\Core;

/** Text of pages and files that goes where signs could steer something: feeds, mails, terminals. */
final class PlainText
{
    /** In one line, without control characters and without marks that turn the direction of what stands behind (UAX #9, 2). */
    public static function line(string $text): string
    {
        $signs = ['/[\p{Cc}\p{Zl}\p{Zp}]+/u' => ' ', '/[\x{202A}-\x{202E}\x{2066}-\x{2069}\x{FFFE}\x{FFFF}]+/u' => ''];

        return trim((string) preg_replace(array_keys($signs), array_values($signs), mb_scrub($text)));
    }

    /** The same with its lines and tabulators. */
    public static function lines(string $text): string
    {
        return (string) preg_replace('/[^\P{Cc}\n\t]+|[\x{202A}-\x{202E}\x{2066}-\x{2069}]+/u', '', mb_scrub($text));
    }
}
