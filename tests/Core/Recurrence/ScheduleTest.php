<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Recurrence;

use PHPUnit\Framework\TestCase;
use Ypomna\Core\Recurrence\Belief;
use Ypomna\Core\Recurrence\Freshness;
use Ypomna\Core\Recurrence\Observation;
use Ypomna\Core\Recurrence\Schedule;

/** When to look again. */
final class ScheduleTest extends TestCase
{
    public function testBeliefsFollowWhatIsSeen(): void
    {
        $large = Belief::atLarge();
        self::assertEqualsWithDelta(1.0, array_sum($large->weights), 1e-9);
        $busy = Belief::after(array_fill(0, 10, new Observation(1.0, true)));
        $quiet = Belief::after(array_fill(0, 10, new Observation(20.0, false)));
        self::assertGreaterThan(1.0, $busy->mean());
        self::assertLessThan(0.02, $quiet->mean());
        self::assertGreaterThan($large->changed(7.0), $busy->changed(7.0));
        self::assertLessThan(0.05, $quiet->changed(7.0));
        // What cannot be by the ladder does not break it.
        $odd = Belief::after([new Observation(5_000.0, false), new Observation(0.0001, true), new Observation(5_000.0, false)]);
        self::assertEqualsWithDelta(1.0, array_sum($odd->weights), 1e-9);
    }

    public function testTheWorthOfALookGrowsUpToABound(): void
    {
        $belief = Belief::after([new Observation(3.0, true), new Observation(3.0, false)]);
        $before = 0.0;
        foreach ([1e-6, 0.01, 0.5, 2.0, 10.0, 90.0, 4_000.0] as $days) {
            self::assertGreaterThan($before, $belief->value($days));
            $before = $belief->value($days);
        }
        self::assertLessThan($belief->utmost(), $before);
    }

    public function testTheBudgetIsKept(): void
    {
        mt_srand(3);
        $beliefs = [];
        for ($n = 0; $n < 60; ++$n) {
            $beliefs[] = Belief::after(array_map(
                static fn (): Observation => new Observation(1 + mt_rand(0, 20), 1 === mt_rand(0, 1 + $n % 9)), range(1, 8),
            ));
        }
        foreach ([3.0, 12.0, 40.0] as $budget) {
            $schedule = new Schedule($budget, 0.1, 200.0);
            $bound = $schedule->bound($beliefs);
            self::assertEqualsWithDelta(
                $budget,
                array_sum(array_map(static fn (Belief $one): float => 1 / $schedule->interval($one, $bound), $beliefs)),
                0.02 * $budget,
            );
        }
        self::assertSame(0.0, (new Schedule(10_000.0, 0.1, 200.0))->bound($beliefs), 'looks enough for all');
        self::assertSame(0.1, (new Schedule(10_000.0, 0.1, 200.0))->interval($beliefs[0], 0.0));
    }

    public function testWhatCannotBeFollowedGetsFewerLooks(): void
    {
        $sure = static fn (int $rung): Belief =>
            Belief::atLarge(array_map(static fn (int $n): float => $n === $rung ? 1.0 : 1e-9, array_keys(Belief::RATES)));
        [$slow, $middle, $fast] = [$sure(3), $sure(8), $sure(15)];
        $schedule = new Schedule(0.3, 0.02, 365.0);
        $bound = $schedule->bound([$slow, $middle, $fast]);
        self::assertLessThan($schedule->interval($slow, $bound), $schedule->interval($middle, $bound));
        self::assertGreaterThan($schedule->interval($middle, $bound), $schedule->interval($fast, $bound));
    }

    public function testKnownRatesAreServedBest(): void
    {
        /** @var list<float> $rates */
        $rates = [0.01, 0.1, 0.5, 2.0, 20.0];
        $best = Freshness::best($rates, 2.0);
        self::assertEqualsWithDelta(2.0, array_sum($best), 1e-6);
        $of = static function (array $checks) use ($rates): float {
            $sum = 0.0;
            foreach ($rates as $n => $rate) {
                $sum += Freshness::of($rate, \is_float($checks[$n] ?? null) ? $checks[$n] : 0.0);
            }

            return $sum;
        };
        foreach (array_keys($rates) as $from) {
            foreach (array_keys($rates) as $to) {
                if ($from !== $to && $best[$from] > 0.01) {
                    $other = $best;
                    $other[$from] -= 0.005;
                    $other[$to] += 0.005;
                    self::assertLessThanOrEqual($of($best) + 1e-9, $of($other), "a look from {$from} to {$to} gains nothing");
                }
            }
        }
        self::assertSame(0.0, $best[4], 'the page that changes all the time');
        self::assertSame([1.0, 0.0], [Freshness::of(0.0, 0.0), Freshness::of(1.0, 0.0)]);
        self::assertEqualsWithDelta(1 - exp(-1), Freshness::of(1.0, 1.0), 1e-12);
    }

    public function testLimitsHaveToLeaveRoom(): void
    {
        $this->expectException(\InvalidArgumentException::class);
        new Schedule(1.0, 3.0, 2.0);
    }
}
