<?php

declare(strict_types=1);

namespace Ypomna\Core\Citation;

/**
 * Goes through XML as office programs write it, and knows where everything stands. It knows no document types: entities of
 * one's own, and what lies outside, cannot be named.
 */
final class XmlScanner
{
    private const MOST = 3_000_000;
    private const DEPTH = 400;
    private const PIECE = '~<!--.*?-->|<\?.*?\?>|<!\[CDATA\[(?<cdata>.*?)\]\]>|'
        .'<(?<end>/?)(?<name>[^\s/<>!?="\']+)(?<attributes>(?:[^<>"\']|"[^"<]*"|\'[^\'<]*\')*?)(?<empty>/?)>|(?<text>[^<]+)~As';

    /**
     * @return \Generator<int, XmlPiece>
     *
     * @throws UnreadableDraft
     */
    public static function read(string $xml, string $name): \Generator
    {
        if (1 === preg_match('/<!(?:DOCTYPE|ENTITY)/i', $xml)) {
            throw new UnreadableDraft(\sprintf(
                'The part “%s” declares a document type, which no document of this kind needs; it is not read.', $name,
            ));
        }
        if (!mb_check_encoding($xml, 'UTF-8')) {
            throw new UnreadableDraft(\sprintf('The part “%s” is not in UTF-8.', $name));
        }
        $at = $pieces = $depth = 0;
        $length = \strlen($xml);
        while ($at < $length) {
            if (1 !== preg_match(self::PIECE, $xml, $m, \PREG_UNMATCHED_AS_NULL, $at)) {
                throw new UnreadableDraft(\sprintf('The part “%s” is not XML: it cannot be read at byte %d.', $name, $at));
            }
            $end = $at + \strlen($m[0]);
            if (++$pieces > self::MOST) {
                throw new UnreadableDraft(\sprintf('The part “%s” has more than %d tags.', $name, self::MOST));
            }
            if (null !== $m['name']) {
                $closes = '/' === $m['end'];
                $isEmpty = '/' === $m['empty'];
                $depth += $closes ? -1 : ($isEmpty ? 0 : 1);
                if ($depth > self::DEPTH || $depth < 0) {
                    throw new UnreadableDraft(\sprintf(
                        'The tags of the part “%s” do not match, or lie more than %d deep, at byte %d.', $name, self::DEPTH, $at,
                    ));
                }
                yield new XmlPiece($m['name'], $closes, $isEmpty, $m['attributes'] ?? '', '', $at, $end);
            } elseif (null !== $m['text'] || null !== $m['cdata']) {
                yield new XmlPiece('', false, false, '', null !== $m['text'] ? self::plain($m['text']) : (string) $m['cdata'], $at, $end);
            }
            $at = $end;
        }
    }

    /** Resolves the five references that XML knows, and numbers. */
    public static function plain(string $text): string
    {
        return !str_contains($text, '&') ? $text : html_entity_decode($text, \ENT_QUOTES | \ENT_XML1, 'UTF-8');
    }

    public static function escaped(string $text): string
    {
        return htmlspecialchars(
            (string) preg_replace('/[^\x09\x0A\x0D\x20-\x{D7FF}\x{E000}-\x{FFFD}\x{10000}-\x{10FFFF}]/u', '', mb_scrub($text)),
            \ENT_QUOTES | \ENT_XML1,
            'UTF-8',
        );
    }
}
