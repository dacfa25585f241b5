<?php

declare(strict_types=1);

namespace Ypomna\Core\Desk;

/**
 * A date as evidence gives it: a day, a month, a year or a season, a span, open at an end, about or not certain (Extended Date/Time
 * Format, level 1; ISO 8601-2:2019, annex A).
 */
final readonly class UncertainDate
{
    private const LONGEST = 100;
    private const YEAR = '(?:-?\d{4}|-?\d{3}X|-?\d{2}XX|Y-?[1-9]\d{4,11})';
    private const DATE = '/^(?<year>'.self::YEAR.')(?:-(?<month>\d\d|XX)(?:-(?<day>\d\d|XX))?)?(?<sign>[?~%])?$/D';
    private const TIME = '/^(?<date>\d{4}-\d\d-\d\d)T(?:[01]\d|2[0-3]):[0-5]\d:[0-5]\d(?:Z|[+-](?:0\d|1[0-4])(?::?[0-5]\d)?)?$/D';

    private function __construct(
        /** As it was written. */
        public string $text,
        /** The first day that may be meant, as a number of days before or after 1970-01-01; null if it is open or not known. */
        public ?int $first,
        /** The last day that may be meant. */
        public ?int $last,
        public bool $isApproximate,
        public bool $isUncertain,
        /** Whether the span has no beginning, or none that is known. */
        public bool $isOpenBefore = false,
        public bool $isOpenAfter = false,
        public bool $isSpan = false,
    ) {
    }

    /** @throws InvalidValue */
    public static function parse(string $text): self
    {
        if (\strlen($text) > self::LONGEST) {
            throw new InvalidValue('A date is wanted, not a text of this length.');
        }
        if (!str_contains($text, '/')) {
            [$first, $last, $sign] = self::one($text);

            return new self($text, $first, $last, \in_array($sign, ['~', '%'], true), \in_array($sign, ['?', '%'], true));
        }
        $ends = explode('/', $text);
        if (2 !== \count($ends) || (\in_array($ends[0], ['', '..'], true) && \in_array($ends[1], ['', '..'], true))) {
            throw new InvalidValue('A span is written with one stroke and at least one date, as 2024-11-08/2024-11-12.');
        }
        [$first, , $before] = \in_array($ends[0], ['', '..'], true) ? [null, null, ''] : self::one($ends[0], false);
        [, $last, $after] = \in_array($ends[1], ['', '..'], true) ? [null, null, ''] : self::one($ends[1], false);
        if (null !== $first && null !== $last && $first > $last) {
            throw new InvalidValue('The span ends before it begins.');
        }
        $signs = $before.$after;

        return new self(
            $text, $first, $last, 1 === preg_match('/[~%]/', $signs), 1 === preg_match('/[?%]/', $signs), null === $first,
            null === $last, true,
        );
    }

    /** The day by which it is put in order: the first that may be meant, of what has no beginning the last. */
    public function sortDay(): int
    {
        return $this->first ?? $this->last ?? 0;
    }

    /**
     * @return array{int, int, string} first and last day, and what is said of how sure it is
     *
     * @throws InvalidValue
     */
    private static function one(string $text, bool $mayHaveTime = true): array
    {
        if ($mayHaveTime && 1 === preg_match(self::TIME, $text, $m)) {
            $text = $m['date'];
        }
        if (1 !== preg_match(self::DATE, $text, $m, \PREG_UNMATCHED_AS_NULL)) {
            throw new InvalidValue('A date is wanted, as 2024-11-08, 2024-11, 2021~ or 2024-11-08/2024-11-12 (EDTF, level 1).');
        }
        $sign = $m['sign'] ?? '';
        [$year, $month, $day] = [$m['year'], $m['month'] ?? null, $m['day'] ?? null];
        if (str_contains($year, 'X') || str_starts_with($year, 'Y')) {
            if (null !== $month) {
                throw new InvalidValue('A year that is not written out to its last digit has no month.');
            }
            $isBefore = str_starts_with($year, '-');
            $from = (int) strtr(ltrim($year, 'Y'), 'X', $isBefore ? '9' : '0');
            $to = (int) strtr(ltrim($year, 'Y'), 'X', $isBefore ? '0' : '9');

            return [self::number($from, 1, 1), self::number($to, 12, 31), $sign];
        }

        return [...self::days((int) $year, $month, $day), $sign];
    }

    /**
     * @return array{int, int}
     *
     * @throws InvalidValue
     */
    private static function days(int $year, ?string $month, ?string $day): array
    {
        if (null === $month || ('XX' === $month && (null === $day || 'XX' === $day))) {
            return [self::number($year, 1, 1), self::number($year, 12, 31)];
        }
        $number = (int) $month;
        if ($number >= 21 && $number <= 24 && null === $day) {
            // Seasons of the northern half: spring from March; winter reaches into the next year.
            $begin = 3 * ($number - 20);

            return [self::number($year, $begin, 1), self::number($year + (12 === $begin ? 1 : 0), $begin % 12 + 3, 1) - 1];
        }
        if ('XX' === $month || $number < 1 || $number > 12) {
            throw new InvalidValue('There is no month '.$month.'.');
        }
        $length = self::number($year + intdiv($number, 12), $number % 12 + 1, 1) - self::number($year, $number, 1);
        if (null === $day || 'XX' === $day) {
            return [self::number($year, $number, 1), self::number($year, $number, $length)];
        }
        if ((int) $day < 1 || (int) $day > $length) {
            throw new InvalidValue('This month has no day '.$day.'.');
        }
        $one = self::number($year, $number, (int) $day);

        return [$one, $one];
    }

    /** Days since 1970-01-01 in the Gregorian calendar, carried on before it began (ISO 8601-1). */
    private static function number(int $year, int $month, int $day): int
    {
        $year -= $month <= 2 ? 1 : 0;
        $era = (int) floor($year / 400);
        $ofEra = $year - 400 * $era;
        $ofYear = intdiv(153 * ($month + ($month > 2 ? -3 : 9)) + 2, 5) + $day - 1;

        return 146_097 * $era + 365 * $ofEra + intdiv($ofEra, 4) - intdiv($ofEra, 100) + $ofYear - 719_468;
    }
}
