<?php

declare(strict_types=1);

namespace Ypomna\App\Search\Value;

/** The strip of a word's life: time from left to right, thick where it stood, thin where it did not. */
final readonly class LifeDrawing
{
    private const LEAST = 0.6;

    /**
     * @param list<array{float, float}> $stood where it stood, from and how far: of 100
     * @param list<array{float, int}> $years where years begin, of 100
     */
    private function __construct(public array $stood, public array $years)
    {
    }

    public static function of(WordLife $life): ?self
    {
        if (null === $life->begins || null === $life->ends) {
            return null;
        }
        $from = (float) $life->begins->format('U.u');
        $whole = max(1.0, (float) $life->ends->format('U.u') - $from);
        $at = static fn (\DateTimeImmutable $moment): float => 100 * ((float) $moment->format('U.u') - $from) / $whole;
        $stood = [];
        foreach ($life->spans as $span) {
            $begins = min($at($span->from), 100 - self::LEAST);
            $stood[] = [round($begins, 2), round(max(self::LEAST, $at($span->to) - $begins), 2)];
        }
        $years = [];
        $last = (int) $life->ends->format('Y');
        $step = max(1, (int) ceil(($last - (int) $life->begins->format('Y')) / 10));
        for ($year = (int) $life->begins->format('Y') + 1; $year <= $last; $year += $step) {
            $years[] = [round($at(new \DateTimeImmutable($year.'-01-01', new \DateTimeZone('UTC'))), 2), $year];
        }

        return new self($stood, $years);
    }
}
