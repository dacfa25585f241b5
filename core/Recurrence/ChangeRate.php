<?php

declare(strict_types=1);

namespace Ypomna\Core\Recurrence;

/**
 * How often a page changes, estimated by maximum likelihood from checks at irregular distances of which each tells only whether
 * it changed (Cho and Garcia-Molina, Estimating frequency of change, ACM TOIT 3 (3), 2003, section 5.3). As there in
 * section 4.2, half an interval without a change is added, which takes away most of the bias, and keeps the estimate finite
 * where every check found a change.
 */
final readonly class ChangeRate
{
    private const STEPS = 200;
    /** Half the 95 % quantile of chi-squared with one degree of freedom. */
    private const DROP = 1.92;
    private const FASTEST = 1e5;
    private const SLOWEST = 1e-7;

    /**
     * @param float $perDay changes a day; 0 where none was seen
     * @param float $low of the likelihood interval (95 %)
     * @param float $high of it; INF where it has no end
     */
    private function __construct(
        public float $perDay,
        public float $low,
        public float $high,
        public int $checks,
        public int $changes,
        public float $days,
    ) {
    }

    /**
     * @param list<Observation> $seen at least one
     */
    public static function of(array $seen): self
    {
        if ([] === $seen) {
            throw new \InvalidArgumentException('Without a second check nothing is known.');
        }
        $changed = $days = 0.0;
        $changes = [];
        foreach ($seen as $one) {
            $days += $one->days;
            if ($one->changed) {
                $changes[] = $one->days;
            } else {
                $changed += $one->days;
            }
        }
        $quiet = $changed + ([] === $changes ? 0.0 : $days / \count($seen) / 2);
        $rate = [] === $changes ? 0.0 : self::root($changes, $quiet);
        $best = self::likelihood($changes, $quiet, $rate);

        return new self(
            $rate,
            [] === $changes ? 0.0 : self::edge($changes, $quiet, $best - self::DROP, self::SLOWEST, $rate, true),
            self::edge($changes, $quiet, $best - self::DROP, max($rate, self::SLOWEST), self::FASTEST, false),
            \count($seen), \count($changes), $days,
        );
    }

    /**
     * Where the derivative of the log-likelihood is nought: the sum of t / (exp(r t) - 1) over intervals with a change equals
     * the time without one.
     *
     * @param non-empty-list<float> $changes
     */
    private static function root(array $changes, float $quiet): float
    {
        [$low, $high] = [self::SLOWEST, self::FASTEST];
        for ($n = 0; $n < self::STEPS && $high / $low > 1 + 1e-12; ++$n) {
            $rate = sqrt($low * $high);
            $sum = 0.0;
            foreach ($changes as $time) {
                $sum += $time / max(1e-300, expm1(min(700.0, $rate * $time)));
            }
            if ($sum > $quiet) {
                $low = $rate;
            } else {
                $high = $rate;
            }
        }

        return sqrt($low * $high);
    }

    /** @param list<float> $changes */
    private static function likelihood(array $changes, float $quiet, float $rate): float
    {
        $sum = -$rate * $quiet;
        foreach ($changes as $time) {
            $sum += log(max(1e-300, -expm1(-$rate * $time)));
        }

        return $sum;
    }

    /** @param list<float> $changes */
    private static function edge(array $changes, float $quiet, float $level, float $low, float $high, bool $isRising): float
    {
        if (!$isRising && self::likelihood($changes, $quiet, $high) > $level) {
            return \INF;
        }
        for ($n = 0; $n < self::STEPS && $high / $low > 1 + 1e-9; ++$n) {
            $rate = sqrt($low * $high);
            if ((self::likelihood($changes, $quiet, $rate) > $level) === $isRising) {
                $high = $rate;
            } else {
                $low = $rate;
            }
        }

        return sqrt($low * $high);
    }
}
