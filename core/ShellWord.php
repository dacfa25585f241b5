<?php

declare(strict_types=1);

namespace Ypomna\Core;

/**
 * A word of a command line that somebody may copy and run (POSIX.1-2017, Shell Command Language, 2.2.2): whatever stands in it
 * means itself.
 */
final class ShellWord
{
    public static function quote(string $text): string
    {
        // A line end would end the command, and what turns or hides letters would show another one than is run.
        $text = (string) preg_replace('/[\x00-\x1f\x7f]+|[\p{Cc}\p{Cf}\p{Zl}\p{Zp}]+/u', '', mb_scrub($text));

        return "'".str_replace("'", "'\\''", $text)."'";
    }

    /** An address of which only visible ASCII signs are left as they are, and of these none that means something around it. */
    public static function address(string $url): string
    {
        return (string) preg_replace_callback(
            '/[^\x21-\x7e]|["<>\\\\^`{|}]/',
            static fn (array $m): string => \sprintf('%%%02X', \ord($m[0])),
            $url,
        );
    }
}
