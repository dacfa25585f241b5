<?php

declare(strict_types=1);

namespace Ypomna\Core\Recurrence;

/**
 * Shares a budget of checks out over pages so that expected freshness is highest. Pages that change faster than the budget can
 * follow get fewer checks, not more: they would be stale again at once. Limits keep each page from being forgotten or pestered.
 */
final readonly class Schedule
{
    private const STEPS = 60;

    /**
     * @param float $budget checks a day, for all pages together
     * @param float $least days between two checks of a page, at least
     * @param float $most days between two checks of a page, at most
     */
    public function __construct(public float $budget, public float $least = 0.02, public float $most = 90.0)
    {
        if ($budget <= 0.0 || $least <= 0.0 || $most < $least) {
            throw new \InvalidArgumentException('There have to be checks to share out, and limits that leave room.');
        }
    }

    /**
     * @param list<Belief> $beliefs
     *
     * @return float the value from which on a check pays; 0 where there are checks enough for every page as often as it may be checked
     */
    public function bound(array $beliefs): float
    {
        if ($this->checks($beliefs, 0.0) <= $this->budget) {
            return 0.0;
        }
        [$low, $high] = [1e-9, 1e5];
        for ($n = 0; $n < self::STEPS; ++$n) {
            $bound = sqrt($low * $high);
            if ($this->checks($beliefs, $bound) > $this->budget) {
                $low = $bound;
            } else {
                $high = $bound;
            }
        }

        return $high;
    }

    /** Days from one check of a page to the next. */
    public function interval(Belief $belief, float $bound): float
    {
        if ($belief->value($this->least) >= $bound) {
            return $this->least;
        }
        if ($belief->value($this->most) <= $bound) {
            return $this->most;
        }
        [$low, $high] = [$this->least, $this->most];
        for ($n = 0; $n < self::STEPS && $high / $low > 1.001; ++$n) {
            $days = sqrt($low * $high);
            if ($belief->value($days) < $bound) {
                $low = $days;
            } else {
                $high = $days;
            }
        }

        return $high;
    }

    /** @param list<Belief> $beliefs */
    private function checks(array $beliefs, float $bound): float
    {
        $checks = 0.0;
        foreach ($beliefs as $belief) {
            $checks += 1 / $this->interval($belief, $bound);
        }

        return $checks;
    }
}
