<?php

declare(strict_types=1);

namespace Ypomna\Core\Recurrence;

/** Expected freshness: the share of time for which what is held is as the page is, where its changes are a Poisson process. */
final class Freshness
{
    /**
     * @param float $rate changes a day
     * @param float $checks checks a day, at equal distances
     */
    public static function of(float $rate, float $checks): float
    {
        if ($rate <= 0.0) {
            return 1.0;
        }
        if ($checks <= 0.0) {
            return 0.0;
        }
        $x = $rate / $checks;

        return $x < 1e-6 ? 1 - $x / 2 : -expm1(-$x) / $x;
    }

    /**
     * The checks a day for each page that make the mean freshness highest, where the rates are known.
     *
     * @param list<float> $rates changes a day, above 0
     * @param float $budget checks a day together
     *
     * @return list<float>
     */
    public static function best(array $rates, float $budget): array
    {
        [$low, $high] = [1e-12, 1e6];
        $checks = [];
        for ($n = 0; $n < 100; ++$n) {
            $bound = sqrt($low * $high);
            $checks = array_map(static fn (float $rate): float => self::checks($rate, $bound), $rates);
            if (array_sum($checks) > $budget) {
                $low = $bound;
            } else {
                $high = $bound;
            }
        }

        return $checks;
    }

    /** Checks a day at which one more check a day would add so many days of freshness. */
    private static function checks(float $rate, float $bound): float
    {
        $wanted = $bound * $rate;
        if ($wanted >= 1.0) {
            return 0.0;
        }
        // 1 - exp(-x) (1 + x) = wanted, with x the changes between two checks.
        [$low, $high] = [0.0, 60.0];
        for ($n = 0; $n < 60; ++$n) {
            $x = ($low + $high) / 2;
            if (1 - exp(-$x) * (1 + $x) < $wanted) {
                $low = $x;
            } else {
                $high = $x;
            }
        }

        return $rate / max(1e-9, $high);
    }
}
