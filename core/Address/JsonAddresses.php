<?php

declare(strict_types=1);

namespace Ypomna\Core\Address;

use Ypomna\Core\Matches;

/** The pages of a text in JSON (RFC 8259), read in one go and without building it up, so that a damaged end loses only itself. */
final class JsonAddresses
{
    private const TOKEN = '/"(?:[^"\\\\]++|\\\\.)*+"|[{}\[\]:,]|-?\d[\d.eE+-]*+/s';
    /** What is of more pieces than any list of that length says nothing. */
    private const MOST_TOKENS = 2_000_000;
    /** No title and no address is longer, in bytes. */
    private const LONGEST = 65_536;

    public static function is(string $text): bool
    {
        return 1 === preg_match('/^\s*(?:\[\s*)*\{\s*"/', substr($text, 0, 4_096));
    }

    /** @return list<ListedAddress> */
    public static function in(string $text, int $most): array
    {
        $objects = new ListedObjects($most);
        $key = '';
        $last = null;
        [$line, $counted] = [1, 0];
        foreach (Matches::of(self::TOKEN, $text, self::MOST_TOKENS) as $at => [$token]) {
            if ($objects->isFull()) {
                break;
            }
            $line += substr_count($text, "\n", $counted, $at - $counted);
            $counted = $at;
            if ('{' === $token || '[' === $token) {
                $objects->open($key, $line);
                $key = '';
            } elseif ('}' === $token || ']' === $token) {
                $objects->close();
                $key = '';
            } elseif (':' === $token) {
                $key = $last ?? '';
            } elseif ('"' === $token[0]) {
                $last = \strlen($token) > self::LONGEST ? '' : self::plain($token);
                $objects->text($key, $last, $line);
                continue;
            } elseif (',' !== $token) {
                $objects->number($key, (int) $token);
            }
            if (',' === $token) {
                $key = '';
            }
            $last = null;
        }

        return $objects->all();
    }

    private static function plain(string $token): string
    {
        $text = json_decode($token, false, 2, \JSON_INVALID_UTF8_SUBSTITUTE);

        return \is_string($text) ? $text : '';
    }
}
