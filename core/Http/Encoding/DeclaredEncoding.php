<?php

declare(strict_types=1);

namespace Ypomna\Core\Http\Encoding;

/** What a document says of its own encoding. */
final class DeclaredEncoding
{
    /** In the first KiB markup is not told from a script's text (HTML Standard, section 13.2.3.2); behind it the parser sees elements. */
    private const PRESCANNED_BYTES = 1_024;
    private const RAW = '~^<(script|style|title|textarea|xmp|iframe|noembed|noframes|noscript)(?=[\s/>])~i';
    private const LONGEST_DECLARATION = 1_024;

    public static function inHtml(string $bytes): ?string
    {
        if (str_starts_with($bytes, "<\0?\0x\0") || str_starts_with($bytes, "\0<\0?\0x")) {
            return "\0" === $bytes[0] ? 'utf-16be' : 'utf-16le';
        }

        return self::inMarkup(substr($bytes, 0, self::PRESCANNED_BYTES), false) ?? self::inXml($bytes) ?? self::inMarkup($bytes, true);
    }

    /** What the XML declaration says ("get an XML encoding"). */
    public static function inXml(string $bytes): ?string
    {
        $end = str_starts_with($bytes, '<?xml') ? strpos(substr($bytes, 0, self::LONGEST_DECLARATION), '>') : false;
        $pattern = '~encoding[\x00-\x20]*+=[\x00-\x20]*+(["\'])([^\x00-\x20"\']++)\1~';
        if (false === $end || 1 !== preg_match($pattern, substr($bytes, 0, $end), $found)) {
            return null;
        }

        return self::ofMarkup(Labels::encoding($found[2]));
    }

    /** What a style sheet’s first rule says (CSS Syntax, section 3.2). */
    public static function inStyle(string $bytes): ?string
    {
        return 1 === preg_match('~^@charset "([\x00-\x21\x23-\x7F]*+)";~', substr($bytes, 0, 1_024), $found)
            ? self::ofMarkup(Labels::encoding($found[1])) : null;
    }

    /** @param bool $asParsed whether what is no markup to a parser is passed over, as the text of scripts */
    private static function inMarkup(string $bytes, bool $asParsed): ?string
    {
        $at = 0;
        while (false !== $at = strpos($bytes, '<', $at)) {
            $found = null;
            $next = match (true) {
                0 === substr_compare($bytes, '<!--', $at, 4) => self::after($bytes, '-->', $at + 2),
                1 === preg_match('~\G<meta[\s/]~i', $bytes, $m, 0, $at) => self::meta($bytes, $at + 5, $found),
                1 === preg_match('~\G</?[a-z]~i', $bytes, $m, 0, $at) => self::afterTag($bytes, $at, $asParsed),
                1 === preg_match('~\G<[!/?]~', $bytes, $m, 0, $at) => self::after($bytes, '>', $at + 1),
                default => $at + 1,
            };
            if (null !== $found || null === $next) {
                return $found;
            }
            $at = $next;
        }

        return null;
    }

    private static function after(string $bytes, string $mark, int $at): ?int
    {
        $found = strpos($bytes, $mark, $at);

        return false === $found ? null : $found + \strlen($mark);
    }

    /** @return int|null where it goes on; null where the bytes end within the tag */
    private static function afterTag(string $bytes, int $at, bool $asParsed): ?int
    {
        $next = $at + strcspn($bytes, "\t\n\f\r >", $at);
        do {
            $attribute = self::attribute($bytes, $next);
        } while (\is_array($attribute));
        if (null === $attribute) {
            return null;
        }
        if (!$asParsed || 1 !== preg_match(self::RAW, substr($bytes, $at, 12), $raw)) {
            return $next;
        }
        $end = stripos($bytes, '</'.$raw[1], $next);

        return false === $end ? null : $end;
    }

    /** @return int|null where it goes on; null where the bytes end within the element */
    private static function meta(string $bytes, int $at, ?string &$found): ?int
    {
        $seen = [];
        do {
            $attribute = self::attribute($bytes, $at);
            $seen += \is_array($attribute) ? [$attribute[0] => $attribute[1]] : [];
        } while (\is_array($attribute));
        if (null === $attribute) {
            return null;
        }
        $isPragma = 'content-type' === ($seen['http-equiv'] ?? null);
        $found = match (true) {
            isset($seen['charset']) => self::ofMarkup(Labels::encoding($seen['charset'])),
            $isPragma && isset($seen['content']) => self::ofMarkup(self::inContent($seen['content'])),
            default => null,
        };

        return $at;
    }

    /** "Algorithm for extracting a character encoding from a meta element". */
    private static function inContent(string $content): ?string
    {
        $pattern = '~charset[\t\n\f\r ]*+=[\t\n\f\r ]*+(?|"([^"]*+)"|\'([^\']*+)\'|([^\t\n\f\r ;"\'][^\t\n\f\r ;]*+))~i';
        if (1 !== preg_match($pattern, $content, $found)) {
            return null;
        }

        return Labels::encoding($found[1]);
    }

    /** A document that can be read so far is not in UTF-16, whatever it says. */
    private static function ofMarkup(?string $encoding): ?string
    {
        return match ($encoding) {
            'utf-16le', 'utf-16be' => 'utf-8',
            'x-user-defined' => 'windows-1252',
            default => $encoding,
        };
    }

    /**
     * "Get an attribute": moves on behind it.
     *
     * @return array{string, string}|false|null its name and value, in lower case; false at the end of the tag; null at the end of the bytes
     */
    private static function attribute(string $bytes, int &$at): array|false|null
    {
        $at += strspn($bytes, "\t\n\f\r /", $at);
        if (!isset($bytes[$at])) {
            return null;
        }
        if ('>' === $bytes[$at]) {
            return false;
        }
        // A name may begin with "=".
        $length = 1 + strcspn($bytes, "\t\n\f\r />=", $at + 1);
        $name = strtolower(substr($bytes, $at, $length));
        $at += $length;
        $gap = strspn($bytes, "\t\n\f\r ", $at);
        if ('=' !== ($bytes[$at + $gap] ?? '')) {
            $at += $gap;

            return isset($bytes[$at]) ? [$name, ''] : null;
        }
        $at += $gap + 1;
        $at += strspn($bytes, "\t\n\f\r ", $at);
        $quote = $bytes[$at] ?? null;
        if ('"' === $quote || "'" === $quote) {
            $end = strpos($bytes, $quote, $at + 1);
            $value = false === $end ? null : substr($bytes, $at + 1, $end - $at - 1);
            $at = false === $end ? \strlen($bytes) : $end + 1;
        } else {
            $length = strcspn($bytes, "\t\n\f\r >", $at);
            $value = substr($bytes, $at, $length);
            $at += $length;
        }

        return null !== $value && isset($bytes[$at]) ? [$name, strtolower($value)] : null;
    }
}
