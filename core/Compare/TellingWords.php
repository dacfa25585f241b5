<?php

declare(strict_types=1);

namespace Ypomna\Core\Compare;

use Ypomna\Core\WordFile;

/**
 * Finds numbers, dates, names and negations among the words that changed: a figure, a "not" or a name that went is what people
 * look for first.
 */
final class TellingWords
{
    private const FILE = __DIR__.'/telling-words.txt';

    /** An expression without delimiters: alternatives. */
    public static function months(): string
    {
        return WordFile::read(self::FILE)['months'];
    }

    /**
     * @param list<WordSpan> $spans as {@see WordDiff::between()} gives them
     *
     * @return list<Telling> in the order of the enum, each once
     */
    public static function among(array $spans): array
    {
        $removed = $added = $before = '';
        $names = false;
        $inDate = false;
        foreach ($spans as $n => $span) {
            if (null === $span->kind) {
                $before = $span->text;
                continue;
            }
            ChangeKind::Removed === $span->kind ? $removed .= ' '.$span->text : $added .= ' '.$span->text;
            $begins = '' === $before || 1 === preg_match('/[.!?:;。]["”»]?\s*$/u', $before);
            $names = $names || self::hasName($span->text, $begins);
            $next = '';
            for ($m = $n + 1; isset($spans[$m]); ++$m) {
                if (null === $spans[$m]->kind) {
                    $next = $spans[$m]->text;
                    break;
                }
            }
            $inDate = $inDate || self::isInDate($before, $span->text, $next);
        }

        return array_values(array_filter([
            self::numbers($removed) !== self::numbers($added) ? Telling::Number : null,
            $inDate ? Telling::Date : null,
            $names ? Telling::Name : null,
            self::negations($removed) !== self::negations($added) ? Telling::Negation : null,
        ]));
    }

    /**
     * @return list<string>
     */
    private static function numbers(string $text): array
    {
        preg_match_all('/\p{N}+(?:[.,:\/]\p{N}+)*/u', $text, $m);

        return $m[0];
    }

    private static function negations(string $text): int
    {
        return (int) preg_match_all('/'.WordFile::read(self::FILE)['negations'].'/iu', $text);
    }

    /** A capital within a sentence, in scripts that have capitals; months and days of the week are none. */
    private static function hasName(string $text, bool $begins): bool
    {
        $text = $begins ? (string) preg_replace('/^\W*\p{Lu}\S*/u', '', $text) : $text;
        $text = (string) preg_replace('/(?<!\p{L})(?:'.self::months().'|'.WordFile::read(self::FILE)['days'].')(?!\p{L})/iu', '', $text);

        return 1 === preg_match('/(?:^|[^\p{L}.!?])\p{Lu}\p{Ll}{2,}/u', $text);
    }

    /** Whether what changed is, or is part of, a date. */
    private static function isInDate(string $before, string $changed, string $next): bool
    {
        $before = mb_substr($before, -24);
        [$from, $to] = [\strlen($before), \strlen($before) + \strlen($changed)];
        $months = '(?:'.self::months().')';
        preg_match_all(
            '/\b\d{4}-\d\d-\d\d\b|\b\d{1,2}[.\/]\s?\d{1,2}[.\/]\s?\d{2,4}\b|\b\d{1,2}(?:st|nd|rd|th)?[.,]?\s*(?:of\s+)?'.$months
                .'(?!\p{L})(?:,?\s*\d{4})?|(?<!\p{L})'.$months.'[.,]?\s*\d{1,4}(?:,\s*\d{4})?|\d+年(?:\d+月)?(?:\d+日)?|\d+月(?:\d+日)?/iu',
            $before.$changed.mb_substr($next, 0, 24),
            $m,
            \PREG_OFFSET_CAPTURE,
        );
        foreach ($m[0] as [$date, $at]) {
            if ($at < $to && $at + \strlen($date) > $from) {
                return true;
            }
        }

        return false;
    }
}
