<?php

declare(strict_types=1);

namespace Ypomna\Core\Page;

/**
 * Where sentences end (Unicode Standard Annex 29, section 5), with what the rules there leave to others: abbreviations, initials,
 * and numbers that a full stop makes ordinal.
 */
final class Sentences
{
    /** Titles before names, written with a capital; here in lower case. */
    private const TITLES = [
        'mr', 'mrs', 'ms', 'mx', 'dr', 'prof', 'capt', 'cpt', 'cmdr', 'cdr', 'lt', 'sgt', 'col', 'gen', 'rev', 'fr', 'hon', 'st', 'ste',
        'mt', 'rep', 'sen', 'gov', 'messrs', 'mme', 'mlle', 'm', 'mm', 'sr', 'sra', 'srta', 'dña', 'sig', 'dott',
        'hr', 'frl', 'hl', 'dir', 'ing', 'mag', 'дp', 'тов',
    ];
    /** Other abbreviations behind which a sentence goes on, whatever follows; dots left out. */
    private const WITHIN = [
        'vs', 'v', 'cf', 'vgl', 'bzw', 'ca', 'approx', 'resp', 'inkl', 'exkl', 'evtl', 'ggf', 'sog', 'eg', 'ie', 'zb', 'dh', 'ua', 'uä',
        'oä', 'viz', 'κ', 'κκ', 'δρ', 'κος', 'κα', 'αρ', 'πχ', 'ул', 'им', 'см', 'напр',
    ];
    /** Abbreviations behind which it goes on where a number follows. */
    private const BEFORE_NUMBERS = [
        'no', 'nos', 'nr', 'nrs', 'num', 'núm', 'n°', 'fig', 'figs', 'abb', 'tab', 'p', 'pp', 's', 'vol', 'bd', 'ch', 'chap', 'kap', 'sec',
        'art', 'ziff', 'abs', 'par', 'ed', 'tel', 'ext', 'eq', 'pos', 'jan', 'feb', 'mar', 'apr', 'jun', 'jul', 'aug', 'sep', 'sept', 'oct',
        'nov', 'dec', 'okt', 'dez', 'αρ', 'σελ', 'стр', 'рис',
    ];
    /** Months behind an ordinal number, as languages have them that write it with a full stop. */
    private const MONTHS = '/^(?:jan|feb|m[aä]r|mai|maj|apr|jun|jul|aug|sep|okt|nov|dez|des|dec|ledn|únor|břez|dub|květ|červ|srp|září|'
        .'říj|listop|pros|stycz|lut|kwie|czerw|lip|sierp|wrze|paźd|grud|toukok|kesäk|heinäk|elok|syysk|lokak|marrask|jouluk|tammik|'
        .'helmik|maalisk|huhtik|jahrhundert|klasse|januar|ιαν|φεβ|μαρ|απρ|μα[ΐϊ]|ιουν|ιουλ|αυγ|σεπ|οκτ|νοε|δεκ)/iu';
    private const LONGEST = 200_000;
    /** So much of what came before tells whether a sentence goes on, in bytes. */
    private const TAIL = 300;

    /**
     * @param string $text normalised
     *
     * @return list<string> without the white space between them
     */
    public static function of(string $text): array
    {
        if ('' === $text) {
            return [];
        }
        if (1 !== preg_match('/[.!?…。．！？;؟۔।॥։።]["\'”’»)\]]*\s*\S/u', $text)) {
            return [$text];
        }
        $sentences = [];
        $before = '';
        $at = 0;
        foreach (self::pieces($text) as $piece) {
            $before .= $piece;
            $at += \strlen($piece);
            // A piece is kept with its white space, so that what is put together again reads as it did.
            if ('' !== trim($before)
                && !self::goesOn(
                    \strlen($before) > self::TAIL ? (string) preg_replace('/^[\x80-\xBF]+/', '', substr($before, -self::TAIL)) : $before,
                    mb_strcut(substr($text, $at, 60), 0, 40),
                )) {
                $sentences[] = $before;
                $before = '';
            }
        }
        if ('' !== trim($before)) {
            $sentences[] = $before;
        }

        return array_map(trim(...), $sentences);
    }

    /**
     * @return list<string>
     */
    private static function pieces(string $text): array
    {
        // In Greek the semicolon asks a question and ends the sentence.
        $locale = 1 === preg_match('/\p{Greek}/u', $text) ? 'el' : 'en';
        /** @var array<string, \IntlBreakIterator> $breakers */
        static $breakers = [];
        $breakers[$locale] ??= \IntlBreakIterator::createSentenceInstance($locale)
            ?? throw new \RuntimeException('ICU knows no sentences here.');
        $breaker = $breakers[$locale];
        $breaker->setText(substr($text, 0, self::LONGEST));
        $pieces = [];
        $from = 0;
        for ($at = $breaker->first(); \IntlBreakIterator::DONE !== $at; $at = $breaker->next()) {
            if ($at > $from) {
                $pieces[] = substr($text, $from, $at - $from);
            }
            $from = $at;
        }
        if ($from < \strlen($text)) {
            $pieces[] = substr($text, $from);
        }

        return $pieces;
    }

    /** Whether the sentence does not end there after all. */
    private static function goesOn(string $before, string $next): bool
    {
        // What was said goes on in the sentence that tells who said it.
        if (1 === preg_match('/[!?…]["\'”’»]\s*$/u', $before) && 1 === preg_match('/^\s*\p{Ll}/u', $next)) {
            return true;
        }
        if (1 !== preg_match('/(?:^|[\s(„“"\'«])((?:\p{L}\.?[ \x{A0}]?){0,2}[\p{L}\p{N}°ª]+)\.["\'”’)]?\s*$/u', $before, $m)) {
            return false;
        }
        $word = mb_strtolower((string) preg_replace('/[.\s]/u', '', $m[1]));
        $last = mb_strtolower((string) preg_replace('/^.*[.\s]/u', '', $m[1]));
        $isCapital = 1 === preg_match('/\p{Lu}[^.\s]*\.\S*\s*$/u', $before);
        if (\in_array($word, self::WITHIN, true) || \in_array($last, self::WITHIN, true)
            || ($isCapital && \in_array($last, self::TITLES, true))) {
            return true;
        }
        $number = 1 === preg_match('/^\s*[(„"]?\p{N}/u', $next);
        if ($number && \in_array($last, self::BEFORE_NUMBERS, true)) {
            return true;
        }
        // Initials before a name, not "Plan B. Then".
        if (1 === preg_match('/(?:^|[\s(.])\p{Lu}\.\s*$/u', $before) && 1 === preg_match('/^\s*\p{Lu}(?:\.|\p{Ll}+)/u', $next)) {
            return 1 !== preg_match(
                '/\b(?:Plan|Group|Class|Type|Section|Part|Appendix|Annex|Deck|Pier|Berth|Gate|Vitamin|Schedule|Grade|Option|'
                    .'Line)\s\p{Lu}\.\s*$/iu',
                $before,
            );
        }
        // Of abbreviations in several letters ("z. B.") the first ones.
        if (1 === preg_match('/(?:^|\s)\p{Ll}\.\s*$/u', $before) && 1 === preg_match('/^\s*\p{L}\./u', $next)) {
            return true;
        }

        return 1 === preg_match('/(?:^|\s)\d{1,2}\.\s*$/u', $before) && 1 === preg_match(self::MONTHS, ltrim($next));
    }
}
