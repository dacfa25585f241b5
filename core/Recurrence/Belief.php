<?php

declare(strict_types=1);

namespace Ypomna\Core\Recurrence;

/**
 * What is believed of the change rate of one page: weights over a fixed ladder of rates, from what is known of pages at large
 * and what checks at this one told (Bayes). A change of the ladder makes stored weights void.
 */
final readonly class Belief
{
    /** Changes a day, from one in some five years to one an hour. */
    public const RATES = [0.0005, 0.001, 0.002, 0.004, 0.008, 0.016, 0.032, 0.064, 0.125, 0.25, 0.5, 1.0, 2.0, 4.0, 8.0, 24.0];
    /**
     * Of pages at large, as crawls have found them: a fifth changes daily and more often, half within some months, the rest
     * hardly ever (Cho and Garcia-Molina, VLDB 2000, figure 2; Fetterly and others, WWW 2003).
     */
    public const AT_LARGE = [0.06, 0.06, 0.07, 0.09, 0.1, 0.1, 0.09, 0.08, 0.07, 0.06, 0.05, 0.05, 0.04, 0.03, 0.03, 0.02];

    /** @param list<float> $weights one a rate, with the sum 1 */
    private function __construct(public array $weights)
    {
    }

    /** @param list<float>|null $weights of pages at large, where more is known than what is written here */
    public static function atLarge(?array $weights = null): self
    {
        $weights ??= self::AT_LARGE;
        $sum = array_sum($weights);

        return new self(array_map(static fn (float $weight): float => $weight / $sum, $weights));
    }

    /**
     * @param list<Observation> $seen
     */
    public static function after(array $seen, ?self $before = null): self
    {
        $belief = $before ?? self::atLarge();
        foreach ($seen as $one) {
            $belief = $belief->with($one);
        }

        return $belief;
    }

    public function with(Observation $seen): self
    {
        $weights = [];
        $sum = 0.0;
        foreach (self::RATES as $n => $rate) {
            $none = exp(-$rate * $seen->days);
            $weights[$n] = $this->weights[$n] * max(1e-30, $seen->changed ? 1 - $none : $none);
            $sum += $weights[$n];
        }

        return new self(array_map(static fn (float $weight): float => $weight / $sum, $weights));
    }

    /** Changes a day that are to be expected. */
    public function mean(): float
    {
        $mean = 0.0;
        foreach (self::RATES as $n => $rate) {
            $mean += $this->weights[$n] * $rate;
        }

        return $mean;
    }

    /** How likely it is that the page changed within so many days. */
    public function changed(float $days): float
    {
        $none = 0.0;
        foreach (self::RATES as $n => $rate) {
            $none += $this->weights[$n] * exp(-$rate * $days);
        }

        return 1 - $none;
    }

    /**
     * How much the expected time for which what is held is as the page is grows by a check now, for each check: in days. It
     * rises with the time since the last check, so looking where it is above one bound for all pages is the schedule that
     * keeps the most of them fresh (the condition of Lagrange on the sum of freshnesses, Cho and Garcia-Molina, Effective page
     * refresh policies, ACM TODS 28 (4), 2003, section 4): for one rate r and time t, (1 - exp(-r t) (1 + r t)) / r.
     */
    public function value(float $days): float
    {
        $value = 0.0;
        foreach (self::RATES as $n => $rate) {
            $x = $rate * $days;
            $value += $this->weights[$n] * ($x < 1e-4 ? $x * $days / 2 : (1 - exp(-$x) * (1 + $x)) / $rate);
        }

        return $value;
    }

    /** What value() comes to at last. */
    public function utmost(): float
    {
        $value = 0.0;
        foreach (self::RATES as $n => $rate) {
            $value += $this->weights[$n] / $rate;
        }

        return $value;
    }
}
