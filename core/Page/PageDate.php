<?php

declare(strict_types=1);

namespace Ypomna\Core\Page;

/** Dates as pages write them, in several languages. */
final class PageDate
{
    private const MONTHS = [
        1 => 'jan(?:uary|uar|vier|\.)?|enero|ene|gennaio|januari|januar|stycznia|styczeń|января|янв|ιαν(?:ουαρ[ίι]ου|\.)?|janeiro|ocak|'
            .'ledna|január\w*|tammikuuta|січня|يناير|كانون الثاني|ינואר|ianuarie',
        2 => 'feb(?:ruary|ruar|\.)?|févr?(?:ier)?|febrero|febbraio|februari|lutego|февраля|фев|φεβ(?:ρουαρ[ίι]ου|\.)?|fevereiro|şubat|'
            .'února|február\w*|helmikuuta|лютого|فبراير|شباط|פברואר|februarie',
        3 => 'mar(?:ch|s|zo|\.)?|märz|mrz|maart|marca|марта|мар|μαρ(?:τ[ίι]ου|\.)?|março|mart|mars|března|március|maaliskuuta|березня|'
            .'مارس|آذار|מרץ|martie',
        4 => 'apr(?:il|ile|\.)?|avril|abril|abr|kwietnia|апреля|апр|απρ(?:ιλ[ίι]ου|\.)?|nisan|dubna|április|huhtikuuta|квітня|أبريل|'
            .'نيسان|אפריל|aprilie',
        5 => 'may|mai|mayo|maggio|mei|maj|maja|мая|μα[ΐϊί]ου|μάι|maio|mayıs|května|május|toukokuuta|травня|مايو|أيار|מאי',
        6 => 'jun[ei]?|juin|junio|giugno|czerwca|июня|ιουν(?:[ίι]ου|\.)?|junho|haziran|června|június|kesäkuuta|червня|يونيو|حزيران|יוני|'
            .'iunie',
        7 => 'jul[yi]?|juillet|julio|luglio|lipca|июля|ιουλ(?:[ίι]ου|\.)?|julho|temmuz|července|július|heinäkuuta|липня|يوليو|تموز|יולי|'
            .'iulie',
        8 => 'aug(?:ust|\.)?|août|agosto|ago|augustus|sierpnia|августа|авг|αυγ(?:ο[ύυ]στου|\.)?|ağustos|srpna|augusztus|elokuuta|серпня|'
            .'أغسطس|آب|אוגוסט',
        9 => 'sept?(?:ember|embre|\.)?|septiembre|settembre|set|września|сентября|сен|σεπ(?:τεμβρ[ίι]ου|\.)?|setembro|eylül|září|'
            .'szeptember|syyskuuta|вересня|سبتمبر|أيلول|ספטמבר|septembrie',
        10 => 'o[ck]t(?:ober|obre|\.)?|octubre|ottobre|październik\w*|октября|окт|οκτ(?:ωβρ[ίι]ου|\.)?|outubro|ekim|října|október|'
            .'lokakuuta|жовтня|أكتوبر|تشرين الأول|אוקטובר|octombrie',
        11 => 'nov(?:ember|embre|\.)?|noviembre|novembre|listopada|ноября|ноя|νοε(?:μβρ[ίι]ου|\.)?|novembro|kasım|listopadu|marraskuuta|'
            .'листопада|نوفمبر|تشرين الثاني|נובמבר|noiembrie',
        12 => 'de[cz](?:ember|embre|\.)?|déc(?:embre)?|diciembre|dicembre|grudnia|декабря|дек|δεκ(?:εμβρ[ίι]ου|\.)?|dezembro|aralık|'
            .'prosince|joulukuuta|грудня|ديسمبر|كانون الأول|דצמבר|decembrie',
    ];

    /** @return string|null the first date of a text, as 2024-11-03 */
    public static function find(string $text, ?string $language = null): ?string
    {
        $found = self::match($text, $language);

        return null === $found ? null : $found[0];
    }

    /** A text without its first date. */
    public static function without(string $text): string
    {
        $found = self::match($text, null);

        return null === $found ? $text : str_replace($found[1], ' ', $text);
    }

    /** How much of a text is a date, 0 to 1. */
    public static function share(string $text): float
    {
        $found = self::match($text, null);

        return null === $found || '' === $text ? 0.0 : min(1.0, mb_strlen($found[1]) / mb_strlen($text));
    }

    /**
     * @return array{string, string}|null the date, and how it was written
     */
    private static function match(string $text, ?string $language): ?array
    {
        $text = mb_strcut($text, 0, 400);
        if (1 === preg_match(
            '/(?<!\d)(\d{4})-(\d\d)-(\d\d)(?:T[\d:.]+(?:Z|[+-]\d\d:?\d\d)?)?|(?<!\d)(\d{4})(\d\d)(\d\d)(?!\d)/', $text, $m,
        )) {
            $date = self::date(
                (int) ('' === $m[1] ? $m[4] ?? 0 : $m[1]),
                (int) ('' === $m[2] ? $m[5] ?? 0 : $m[2]),
                (int) ('' === $m[3] ? $m[6] ?? 0 : $m[3]),
            );
            if (null !== $date) {
                return [$date, $m[0]];
            }
        }
        if (1 === preg_match('/(\d{4})\s*年\s*(\d{1,2})\s*月\s*(\d{1,2})\s*日|(\d{4})\s*년\s*(\d{1,2})\s*월\s*(\d{1,2})\s*일/u', $text, $m)) {
            $date = self::date(
                (int) ('' === $m[1] ? $m[4] ?? 0 : $m[1]),
                (int) ('' === $m[2] ? $m[5] ?? 0 : $m[2]),
                (int) ('' === $m[3] ? $m[6] ?? 0 : $m[3]),
            );
            if (null !== $date) {
                return [$date, $m[0]];
            }
        }
        if (1 === preg_match('/(?<!\d)(\d{4})([.\/])\s?(\d{1,2})\2\s?(\d{1,2})(?!\d)/', $text, $m)) {
            $date = self::date((int) $m[1], (int) $m[3], (int) $m[4]);
            if (null !== $date) {
                return [$date, $m[0]];
            }
        }
        foreach (self::MONTHS as $month => $names) {
            if (1 === preg_match(
                '/(?<!\p{N})(\d{1,2})(?:st|nd|rd|th|er)?[.,]?\s+(?:de\s+|of\s+|ב)?(?:'.$names.')(?!\p{L})\.?,?\s+(?:de\s+)?(\d{4})/iu',
                $text,
                $m,
            )
                || 1 === preg_match('/(?<!\p{L})(?:'.$names.')(?!\p{L})\.?\s+(\d{1,2})(?:st|nd|rd|th)?,?\s+(\d{4})/iu', $text, $m)) {
                $date = self::date((int) $m[2], $month, (int) $m[1]);
                if (null !== $date) {
                    return [$date, $m[0]];
                }
            }
            if (1 === preg_match('/(?<!\p{N})(\d{4})\.?\s+(?:'.$names.')\s+(\d{1,2})(?!\p{N})/iu', $text, $m)) {
                $date = self::date((int) $m[1], $month, (int) $m[2]);
                if (null !== $date) {
                    return [$date, $m[0]];
                }
            }
        }
        if (1 === preg_match('/(?<!\d)(\d{1,2})([.\/-])\s?(\d{1,2})\2\s?(\d{4})(?!\d)/', $text, $m)) {
            // Month first only where the day cannot be a month, or the page is American.
            $american = '/' === $m[2] && ((int) $m[3] > 12 || 1 === preg_match('/^en-us/i', $language ?? ''));
            $date = self::date((int) $m[4], (int) ($american ? $m[1] : $m[3]), (int) ($american ? $m[3] : $m[1]));
            if (null !== $date) {
                return [$date, $m[0]];
            }
        }

        return null;
    }

    private static function date(int $year, int $month, int $day): ?string
    {
        return $year >= 1900 && $year <= 2100 && checkdate($month, $day, $year) ? \sprintf('%04d-%02d-%02d', $year, $month, $day) : null;
    }
}
