<?php

declare(strict_types=1);

namespace Ypomna\Core\Page;

/** Text as a reader sees it, and its pieces (Unicode Standard Annexes 15 and 29, through ICU). */
final class Text
{
    /** White space folded to single blanks, NFC, invisible characters and soft hyphens taken out. */
    public static function normalise(string $text): string
    {
        $text = (string) preg_replace('/[\x{00AD}\x{200B}\x{200E}\x{200F}\x{2060}\x{FEFF}]+/u', '', $text);
        $text = (string) preg_replace('/[\s\x{00A0}\x{1680}\x{2000}-\x{200A}\x{202F}\x{205F}\x{3000}\x{2028}\x{2029}\x{0085}]+/u', ' ', $text);
        if (1 === preg_match('/[^\x00-\x{02FF}]/u', $text)) {
            $composed = \Normalizer::normalize($text, \Normalizer::FORM_C);
            $text = \is_string($composed) ? $composed : $text;
        }

        return trim($text, ' ');
    }

    /**
     * @return list<string> without the white space between them
     */
    public static function sentences(string $text): array
    {
        if ('' === $text) {
            return [];
        }
        if (1 !== preg_match('/[.!?…。．！？;؟۔।]\s*\S/u', $text)) {
            return [$text];
        }
        // In Greek the semicolon asks a question and ends the sentence.
        $locale = 1 === preg_match('/\p{Greek}/u', $text) ? 'el' : 'en';
        /** @var array<string, \IntlBreakIterator> $breakers */
        static $breakers = [];
        $breakers[$locale] ??= self::sentenceBreaker($locale);

        return self::pieces($breakers[$locale], $text, true);
    }

    private static function sentenceBreaker(string $locale): \IntlBreakIterator
    {
        return \IntlBreakIterator::createSentenceInstance($locale) ?? throw new \RuntimeException('ICU knows no sentences here.');
    }

    /**
     * Words and what lies between them, nothing left out.
     *
     * @return list<string>
     */
    public static function words(string $text): array
    {
        static $breaker = null;
        $breaker ??= \IntlBreakIterator::createWordInstance('en');
        \assert($breaker instanceof \IntlBreakIterator);

        return self::pieces($breaker, $text, false);
    }

    /**
     * @return list<string>
     */
    private static function pieces(\IntlBreakIterator $breaker, string $text, bool $trim): array
    {
        $breaker->setText($text);
        $pieces = [];
        $from = 0;
        for ($at = $breaker->first(); \IntlBreakIterator::DONE !== $at; $at = $breaker->next()) {
            $piece = substr($text, $from, $at - $from);
            $piece = $trim ? trim($piece) : $piece;
            if ('' !== $piece) {
                $pieces[] = $piece;
            }
            $from = $at;
        }

        return $pieces;
    }
}
