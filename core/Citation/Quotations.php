<?php

declare(strict_types=1);

namespace Ypomna\Core\Citation;

/** What a text puts in quotation marks. */
final class Quotations
{
    private const PATTERN = '/“([^“”]{4,600})”|„([^„“”]{4,600})[“”]|«([^«»]{4,600})»|»([^«»]{4,600})«|「([^「」]{4,400})」|『([^『』]{4,400})』|'
        .'"([^"]{4,600})"|(?<!\p{L})‘([^‘]{8,600}?)’(?!\p{L})/u';
    private const MOST = 6;

    /**
     * @return list<string> those of three words, or six characters of a script without blanks, and more
     */
    public static function in(string $text): array
    {
        preg_match_all(self::PATTERN, mb_scrub($text), $m, \PREG_SET_ORDER);
        $quotes = [];
        foreach ($m as $one) {
            $quote = trim((string) preg_replace('/\s+/u', ' ', implode('', \array_slice($one, 1))));
            $words = preg_match_all('/[\p{L}\p{N}]+/u', $quote);
            $dense = preg_match_all('/[\p{Han}\p{Hiragana}\p{Katakana}\p{Thai}]/u', $quote);
            if ($words >= 3 || $dense >= 6) {
                $quotes[$quote] = $quote;
            }
        }

        return \array_slice(array_values($quotes), 0, self::MOST);
    }
}
