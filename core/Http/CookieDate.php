<?php

declare(strict_types=1);

namespace Ypomna\Core\Http;

use Ypomna\Core\Split;

/** The date at which a cookie ends, in whatever order and with whatever marks between its parts (RFC 6265, section 5.1.1). */
final class CookieDate
{
    private const DELIMITERS = '/[\x09\x20-\x2F\x3B-\x40\x5B-\x60\x7B-\x7E]++/';
    private const TIME = '/^(\d{1,2}):(\d{1,2}):(\d{1,2})(?!\d)/';
    private const DAY = '/^(\d{1,2})(?!\d)/';
    private const MONTH = '/^(jan|feb|mar|apr|may|jun|jul|aug|sep|oct|nov|dec)/i';
    private const YEAR = '/^(\d{2,4})(?!\d)/';
    private const MONTHS = [
        'jan' => 1, 'feb' => 2, 'mar' => 3, 'apr' => 4, 'may' => 5, 'jun' => 6,
        'jul' => 7, 'aug' => 8, 'sep' => 9, 'oct' => 10, 'nov' => 11, 'dec' => 12,
    ];
    private const FIRST_YEAR = 1601;

    /** @return int|null seconds since 1970; null if it is no such date */
    public static function parse(string $text): ?int
    {
        $time = $day = $month = $year = null;
        foreach (Split::by(self::DELIMITERS, $text) as $token) {
            // Each part is taken once, and a token for one part only.
            if (null === $time && 1 === preg_match(self::TIME, $token, $m)) {
                $time = [(int) $m[1], (int) $m[2], (int) $m[3]];
            } elseif (null === $day && 1 === preg_match(self::DAY, $token, $m)) {
                $day = (int) $m[1];
            } elseif (null === $month && 1 === preg_match(self::MONTH, $token, $m)) {
                $month = self::MONTHS[strtolower($m[1])];
            } elseif (null === $year && 1 === preg_match(self::YEAR, $token, $m)) {
                $year = (int) $m[1];
            }
        }
        if (null === $time || null === $day || null === $month || null === $year) {
            return null;
        }
        $year += match (true) {
            $year >= 70 && $year <= 99 => 1900,
            $year < 70 => 2000,
            default => 0,
        };
        if ($year < self::FIRST_YEAR || !checkdate($month, $day, $year) || $time[0] > 23 || $time[1] > 59 || $time[2] > 59) {
            return null;
        }
        $seconds = gmmktime($time[0], $time[1], $time[2], $month, $day, $year);

        return false === $seconds ? null : $seconds;
    }
}
