<?php

declare(strict_types=1);

namespace Ypomna\Core\Liveness;

/**
 * How many pages are still alive at which age. Deaths are known only to lie between two checks, so the curve is the one that
 * makes such intervals likeliest (Turnbull, The empirical distribution function with arbitrarily grouped, censored and truncated
 * data, J. R. Stat. Soc. B 38, 1976), found by its self-consistency over a grid of ages; the band holds the middle 95 % of
 * curves from samples that were drawn again from the pages (bootstrap).
 */
final class Survival
{
    private const CELLS = 60;
    private const STEPS = 400;
    private const SAMPLES = 80;
    private const STEPS_OF_SAMPLE = 80;
    private const ENOUGH = 1e-7;
    private const FINE = 1_000_000_000;
    private const MANY = 60;

    /**
     * @param list<Lifetime> $lives
     * @param \Closure(int): int $random a number from 0 to below what is given
     *
     * @return list<SurvivalPoint> by age, from nought on; empty where nothing is known
     */
    public static function of(array $lives, \Closure $random): array
    {
        if ([] === $lives) {
            return [];
        }
        $grid = self::grid($lives);
        $cells = \count($grid);
        // Pages of which the same is known count together: the cells from and to which they may have died.
        $groups = [];
        foreach ($lives as $life) {
            $from = self::cell($grid, $life->alive);
            $to = null === $life->gone ? $cells : max($from, self::cell($grid, $life->gone) - 1);
            $groups[$from.' '.$to] = ($groups[$from.' '.$to] ?? 0) + 1;
        }
        $pairs = array_map(static fn (string $key): array => array_map(intval(...), explode(' ', $key)), array_keys($groups));
        /** @var list<array{int, int}> $pairs */
        $counts = array_values($groups);
        $ends = self::ends($pairs, $cells + 1);
        $mass = self::fit($pairs, $counts, self::evenly($ends), self::STEPS);
        [$low, $high] = self::band($pairs, $counts, $mass, self::evenly($ends), $random);
        $points = [];
        $share = 1.0;
        $ages = array_map(static fn (Lifetime $life): float => $life->alive, $lives);
        sort($ages);
        foreach ([0.0, ...$grid] as $n => $days) {
            $share -= 0 === $n ? 0.0 : $mass[$n - 1];
            $points[] = new SurvivalPoint($days, max(0.0, $share), $low[$n], $high[$n], \count($ages) - self::before($ages, $days));
        }

        return $points;
    }

    /** @param list<SurvivalPoint> $curve */
    public static function at(array $curve, float $days): ?SurvivalPoint
    {
        $found = null;
        foreach ($curve as $point) {
            if ($point->days <= $days) {
                $found = $point;
            }
        }

        return $found;
    }

    /**
     * Ages at which something is known, or so many spread among them.
     *
     * @param non-empty-list<Lifetime> $lives
     *
     * @return non-empty-list<float> rising, above nought
     */
    private static function grid(array $lives): array
    {
        $ages = [];
        foreach ($lives as $life) {
            foreach ([$life->alive, $life->gone] as $age) {
                if (null !== $age && $age > 0.0) {
                    $ages[(string) round($age, 1)] = round($age, 1);
                }
            }
        }
        sort($ages);
        $ages = array_values(array_filter($ages, static fn (float $age): bool => $age > 0.0));
        if (\count($ages) > self::CELLS) {
            $some = [];
            for ($n = 1; $n <= self::CELLS; ++$n) {
                $some[] = $ages[(int) round($n * (\count($ages) - 1) / self::CELLS)];
            }
            $ages = array_values(array_unique($some));
        }

        return [] === $ages ? [1.0] : $ages;
    }

    /**
     * Number of the first cell that begins at that age or later; cell n ends at the n-th age of the grid.
     *
     * @param list<float> $grid
     */
    private static function cell(array $grid, float $age): int
    {
        [$low, $high] = [0, \count($grid)];
        while ($low < $high) {
            $middle = intdiv($low + $high, 2);
            if ($grid[$middle] <= $age) {
                $low = $middle + 1;
            } else {
                $high = $middle;
            }
        }

        return $low;
    }

    /** @param list<float> $sorted */
    private static function before(array $sorted, float $age): int
    {
        [$low, $high] = [0, \count($sorted)];
        while ($low < $high) {
            $middle = intdiv($low + $high, 2);
            if ($sorted[$middle] < $age) {
                $low = $middle + 1;
            } else {
                $high = $middle;
            }
        }

        return $low;
    }

    /**
     * Only in the innermost spans, from an end of one page's span to the next end of another's, can deaths lie; where in such
     * a span is not known, and they are put at its end (Turnbull, section 3).
     *
     * @param list<array{int, int}> $pairs
     *
     * @return list<bool> whether a cell is such an end
     */
    private static function ends(array $pairs, int $cells): array
    {
        $from = $to = [];
        foreach ($pairs as [$a, $b]) {
            $from[$a] = true;
            $to[$b] = true;
        }
        $ends = [];
        $open = false;
        for ($cell = 0; $cell < $cells; ++$cell) {
            $open = $open || isset($from[$cell]);
            $ends[] = $open && isset($to[$cell]);
            $open = $open && !isset($to[$cell]);
        }

        return $ends;
    }

    /**
     * @param list<bool> $ends
     *
     * @return list<float>
     */
    private static function evenly(array $ends): array
    {
        $many = max(1, \count(array_filter($ends, static fn (bool $is): bool => $is)));

        return array_map(static fn (bool $is): float => $is ? 1 / $many : 0.0, $ends);
    }

    /**
     * Each page's death is shared out over the cells where it may lie, by what the curve so far says, until that changes nothing.
     *
     * @param list<array{int, int}> $pairs
     * @param list<int> $counts
     * @param list<float> $mass to begin with
     *
     * @return list<float> share of deaths in each cell; in the last one that of pages that outlive what is known
     */
    private static function fit(array $pairs, array $counts, array $mass, int $steps): array
    {
        $cells = \count($mass);
        $all = max(1, array_sum($counts));
        for ($step = 0; $step < $steps; ++$step) {
            $sums = [0.0];
            foreach ($mass as $n => $one) {
                $sums[$n + 1] = $sums[$n] + $one;
            }
            // What is added to a run of cells is written down at its two ends.
            $factor = array_fill(0, $cells + 1, 0.0);
            foreach ($pairs as $n => [$from, $to]) {
                $within = $sums[$to + 1] - $sums[$from];
                if ($counts[$n] > 0 && $within > 0.0) {
                    $factor[$from] += $counts[$n] / $within;
                    $factor[$to + 1] -= $counts[$n] / $within;
                }
            }
            $running = $moved = 0.0;
            $next = [];
            foreach ($mass as $n => $one) {
                $running += $factor[$n];
                $next[] = $one * $running / $all;
                $moved = max($moved, abs($next[$n] - $one));
            }
            $mass = $next;
            if ($moved < self::ENOUGH) {
                break;
            }
        }

        return $mass;
    }

    /**
     * @param list<array{int, int}> $pairs
     * @param list<int> $counts
     * @param list<float> $mass
     * @param list<float> $even the same mass at each end
     * @param \Closure(int): int $random
     *
     * @return array{list<float>, list<float>} lower and upper ends of the band at nought and at each age of the grid
     */
    private static function band(array $pairs, array $counts, array $mass, array $even, \Closure $random): array
    {
        // A cell without a death would never get one in a sample.
        $start = array_map(static fn (float $one, float $same): float => 0.9 * $one + 0.1 * $same, $mass, $even);
        $shares = [];
        for ($sample = 0; $sample < self::SAMPLES; ++$sample) {
            // How often each is drawn again is a number by Poisson: the same as drawing one by one, for many.
            $drawn = array_map(static fn (int $count): int => self::poisson($count, $random), $counts);
            $drawn = 0 === array_sum($drawn) ? $counts : $drawn;
            $share = 1.0;
            $shares[0][] = 1.0;
            foreach (\array_slice(self::fit($pairs, $drawn, $start, self::STEPS_OF_SAMPLE), 0, -1) as $n => $one) {
                $share -= $one;
                $shares[$n + 1][] = max(0.0, $share);
            }
        }
        $low = $high = [];
        foreach ($shares as $values) {
            sort($values);
            $low[] = $values[(int) floor(0.025 * (self::SAMPLES - 1))];
            $high[] = $values[(int) ceil(0.975 * (self::SAMPLES - 1))];
        }

        return [$low, $high];
    }

    /** @param \Closure(int): int $random */
    private static function poisson(int $mean, \Closure $random): int
    {
        $uniform = static fn (): float => ($random(self::FINE) + 0.5) / self::FINE;
        if ($mean > self::MANY) {
            return max(0, (int) round($mean + sqrt($mean) * sqrt(-2 * log($uniform())) * cos(2 * \M_PI * $uniform())));
        }
        $least = exp(-$mean);
        $n = 0;
        $product = $uniform();
        while ($product > $least) {
            ++$n;
            $product *= $uniform();
        }

        return $n;
    }
}
