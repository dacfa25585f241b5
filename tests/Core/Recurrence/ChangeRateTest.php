<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Recurrence;

use PHPUnit\Framework\TestCase;
use Ypomna\Core\Recurrence\ChangeRate;
use Ypomna\Core\Recurrence\Observation;

/** How often a page changes. */
final class ChangeRateTest extends TestCase
{
    public function testAtEqualDistancesItIsWhatThePaperSays(): void
    {
        foreach ([[10, 3], [20, 19], [7, 7], [100, 1]] as [$checks, $changes]) {
            $seen = [];
            for ($n = 0; $n < $checks; ++$n) {
                $seen[] = new Observation(2.0, $n < $changes);
            }
            // -log((n - X + 0.5) / (n + 0.5)) a look (section 4.2, formula 7).
            self::assertEqualsWithDelta(-log(($checks - $changes + 0.5) / ($checks + 0.5)) / 2, ChangeRate::of($seen)->perDay, 1e-6);
        }
    }

    public function testAtAnyDistancesItIsTheLikeliest(): void
    {
        mt_srand(5);
        for ($n = 0; $n < 40; ++$n) {
            $seen = array_map(static fn (): Observation => new Observation(0.1 + mt_rand(0, 900) / 30, 1 === mt_rand(0, 2)), range(1, 12));
            $found = ChangeRate::of($seen);
            $likelihood = static function (float $rate) use ($seen): float {
                $quiet = array_sum(array_map(static fn (Observation $one): float => $one->days, $seen)) / \count($seen) / 2;
                $sum = -$rate * $quiet;
                foreach ($seen as $one) {
                    $sum += $one->changed ? log(1 - exp(-$rate * $one->days)) : -$rate * $one->days;
                }

                return $sum;
            };
            if (0 === $found->changes) {
                continue;
            }
            foreach ([0.5, 0.9, 0.99, 1.01, 1.1, 2.0] as $factor) {
                self::assertLessThan($likelihood($found->perDay), $likelihood($found->perDay * $factor));
            }
            self::assertEqualsWithDelta($likelihood($found->perDay) - 1.92, $likelihood($found->low), 1e-3);
            self::assertEqualsWithDelta($likelihood($found->perDay) - 1.92, $likelihood($found->high), 1e-3);
        }
    }

    public function testTheIntervalHoldsTheTruthAsOftenAsItSays(): void
    {
        mt_srand(11);
        $held = 0;
        for ($n = 0; $n < 400; ++$n) {
            $rate = 0.15;
            $seen = [];
            for ($k = 0; $k < 25; ++$k) {
                $days = 0.5 + mt_rand(0, 1_000) / 100;
                $seen[] = new Observation($days, mt_rand() / mt_getrandmax() < 1 - exp(-$rate * $days));
            }
            $found = ChangeRate::of($seen);
            $held += $found->low <= $rate && $rate <= $found->high ? 1 : 0;
        }
        self::assertEqualsWithDelta(0.95, $held / 400, 0.035);
    }

    public function testTheEdges(): void
    {
        $never = ChangeRate::of([new Observation(3.0, false), new Observation(40.0, false)]);
        self::assertSame([0.0, 0.0, 2, 0], [$never->perDay, $never->low, $never->checks, $never->changes]);
        self::assertEqualsWithDelta(1.92 / 43, $never->high, 1e-6);
        $always = ChangeRate::of([new Observation(3.0, true), new Observation(4.0, true)]);
        self::assertGreaterThan(0.2, $always->perDay);
        self::assertLessThan(\INF, $always->perDay);
        foreach ([0.0, -1.0, \NAN, \INF] as $days) {
            try {
                new Observation($days, true);
                self::fail('There is no such distance.');
            } catch (\InvalidArgumentException $e) {
                self::assertStringContainsString('apart', $e->getMessage());
            }
        }
        $this->expectException(\InvalidArgumentException::class);
        ChangeRate::of([]);
    }
}
