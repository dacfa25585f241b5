<?php

declare(strict_types=1);

namespace Ypomna\Core\Fetch;

use Ypomna\Core\Http\MessageHead;

/**
 * Overwrites what signs a person in, in the files of an exchange before they are written for good: values of Cookie, Set-Cookie
 * and Authorization, sign by sign, so that nothing else changes its place.
 */
final class Secrets
{
    private const FIELDS = 'cookie2?|set-cookie2?|authorization|proxy-authorization';

    /** @return int how many values were overwritten */
    public static function overwrite(Exchange $exchange): int
    {
        return self::head($exchange->requestPath) + self::head($exchange->responsePath);
    }

    /** Names, schemes and attributes stay; they sign nobody in. */
    private static function value(string $field, string $text): string
    {
        $hide = static fn (string $secret): string => (string) preg_replace('/[^\s;]/', 'x', $secret);

        return (string) match (true) {
            str_starts_with($field, 'set-cookie') => preg_replace_callback('/^([^=;]*=)?([^;]*)/', static fn (array $m): string => $m[1].$hide($m[2]), $text),
            str_starts_with($field, 'cookie') => preg_replace_callback('/(^|;)([^=;]*=)?([^;]*)/', static fn (array $m): string => $m[1].$m[2].$hide($m[3]), $text),
            default => preg_replace_callback('/^(\w+[ \t]+)?(.*)$/s', static fn (array $m): string => $m[1].$hide($m[2]), $text),
        };
    }

    private static function head(string $path): int
    {
        $handle = @fopen($path, 'r+');
        if (false === $handle) {
            return 0;
        }
        try {
            $bytes = (string) stream_get_contents($handle, 2 * MessageHead::MAX_BYTES);
            $count = $length = 0;
            $clean = '';
            // Interim answers have heads of their own.
            do {
                $end = MessageHead::end(substr($bytes, $length));
                if (null === $end) {
                    break;
                }
                $head = substr($bytes, $length, $end);
                $length += $end;
                $clean .= preg_replace_callback('/^('.self::FIELDS.')([ \t]*:[ \t]*)([^\r\n]*(?:\r?\n[ \t][^\r\n]*)*)/im', static function (array $m) use (&$count): string {
                    ++$count;

                    return $m[1].$m[2].self::value(strtolower($m[1]), $m[3]);
                }, $head) ?? $head;
            } while (1 === preg_match('#^HTTP/\d\.\d 1(?!01)\d\d#', $head));
            if ($count > 0) {
                rewind($handle);
                if (fwrite($handle, $clean) !== \strlen($clean)) {
                    throw new StorageFull('What signs a person in could not be overwritten.');
                }
            }

            return $count;
        } finally {
            fclose($handle);
        }
    }
}
