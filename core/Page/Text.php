<?php

declare(strict_types=1);

namespace Ypomna\Core\Page;

/** Text as a reader sees it, and its words (Unicode Standard Annexes 15 and 29, through ICU). */
final class Text
{
    /** Takes up no width and changes nothing that is read: soft hyphens, spaces of no width, marks of direction, variation selectors. */
    private const NO_WIDTH = '\x{00AD}\x{034F}\x{061C}\x{180E}\x{200B}\x{200E}\x{200F}'
        .'\x{202A}-\x{202C}\x{2060}-\x{2064}\x{2066}-\x{2069}\x{FEFF}';
    private const SPACE = '\s\x{0085}\x{00A0}\x{1680}\x{2000}-\x{200A}\x{2028}\x{2029}\x{202F}\x{205F}\x{3000}';

    /** White space folded to single blanks, NFC, invisible characters and soft hyphens taken out. */
    public static function normalise(string $text): string
    {
        if (1 !== preg_match('/[\x80-\xFF]/', $text)) {
            return trim((string) preg_replace('/\s+/', ' ', $text), ' ');
        }
        $text = (string) preg_replace('/['.self::NO_WIDTH.']+/u', '', $text);
        // Joiners are seen between letters that join and in composed pictures; elsewhere they are nothing.
        $text = (string) preg_replace(
            '/(?<![\p{Arabic}\p{Syriac}\p{Mongolian}\p{Devanagari}\p{Bengali}\p{Gurmukhi}'
                .'\p{Gujarati}\p{Tamil}\p{Telugu}\p{Kannada}\p{Malayalam}\p{Sinhala}'
                .'\p{So}\p{M}])[\x{200C}\x{200D}]+|[\x{200C}\x{200D}]+$/u',
            '',
            $text,
        );
        $text = (string) preg_replace('/['.self::SPACE.']+/u', ' ', $text);
        if (1 === preg_match('/[^\x00-\x{02FF}]/u', $text)) {
            $composed = \Normalizer::normalize($text, \Normalizer::FORM_C);
            $text = \is_string($composed) ? $composed : $text;
        }

        return trim($text, ' ');
    }

    /** What two texts that read the same have in common. */
    public static function key(string $text): string
    {
        return 1 === preg_match('/[\x80-\xFF]/', $text)
            ? trim((string) preg_replace('/ {2,}/', ' ', (string) preg_replace('/[\x{200C}\x{200D}\x{FE00}-\x{FE0F}]+/u', '', $text)), ' ')
            : $text;
    }

    /**
     * @return list<string> without the white space between them
     */
    public static function sentences(string $text): array
    {
        return Sentences::of($text);
    }

    /**
     * Words and what lies between them, nothing left out.
     *
     * @return list<string>
     */
    public static function words(string $text): array
    {
        // Without a script that needs to be told where words end, words are runs of letters and digits.
        if (1 !== preg_match('/[\p{Thai}\p{Lao}\p{Khmer}\p{Myanmar}\p{Han}\p{Hiragana}\p{Katakana}]/u', $text)) {
            preg_match_all("/[\\p{L}\\p{M}\\p{N}]+(?:['’.,:\\/-][\\p{L}\\p{M}\\p{N}]+)*| +|[^\\p{L}\\p{M}\\p{N} ]/u", $text, $m);

            return $m[0];
        }
        static $breaker = null;
        $breaker ??= \IntlBreakIterator::createWordInstance('en');
        \assert($breaker instanceof \IntlBreakIterator);
        $breaker->setText($text);
        $pieces = [];
        $from = 0;
        for ($at = $breaker->first(); \IntlBreakIterator::DONE !== $at; $at = $breaker->next()) {
            if ($at > $from) {
                $pieces[] = substr($text, $from, $at - $from);
            }
            $from = $at;
        }

        return $pieces;
    }
}
