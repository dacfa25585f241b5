<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Liveness;

use PHPUnit\Framework\TestCase;
use Ypomna\Core\Liveness\Lifetime;
use Ypomna\Core\Liveness\Survival;
use Ypomna\Core\Liveness\SurvivalPoint;

/** How many pages are still alive at which age. */
final class SurvivalTest extends TestCase
{
    public function testWhereDeathsAreKnownExactlyItIsTheShareThatLives(): void
    {
        $curve = self::curve([new Lifetime(10.0, 10.1), new Lifetime(20.0, 20.1), new Lifetime(30.0, 30.1), new Lifetime(40.0)]);
        foreach ([[5.0, 1.0], [15.0, 0.75], [25.0, 0.5], [35.0, 0.25], [40.0, 0.25]] as [$days, $share]) {
            self::assertEqualsWithDelta($share, Survival::at($curve, $days)?->share, 0.005, "at {$days} days");
        }
    }

    public function testPagesThatLeaveTheSightAliveDoNotCountAsDead(): void
    {
        // Kaplan and Meier by hand: 3 of 4 at 10, then 2 of 2 left at 20: 3/4, then 3/8.
        $curve = self::curve([new Lifetime(10.0, 10.1), new Lifetime(15.0), new Lifetime(20.0, 20.1), new Lifetime(30.0)]);
        self::assertEqualsWithDelta(0.75, Survival::at($curve, 12.0)?->share, 0.005);
        self::assertEqualsWithDelta(0.375, Survival::at($curve, 25.0)?->share, 0.005);
    }

    public function testAKnownCurveIsFoundFromLooksFarApart(): void
    {
        mt_srand(9);
        $lives = [];
        for ($n = 0; $n < 1_500; ++$n) {
            $death = -400 * log((mt_rand() + 1) / (mt_getrandmax() + 2));
            $alive = 0.0;
            $gone = null;
            for ($at = 0.0; $at < 1_200 && null === $gone; $at += 10 + mt_rand(0, 140)) {
                if ($at < $death) {
                    $alive = $at;
                } else {
                    $gone = $at;
                }
            }
            $lives[] = new Lifetime($alive, $gone);
        }
        $curve = self::curve($lives);
        foreach ([100, 300, 600, 1_000] as $days) {
            $point = Survival::at($curve, (float) $days);
            self::assertNotNull($point);
            self::assertEqualsWithDelta(exp(-$days / 400), $point->share, 0.05);
            self::assertLessThanOrEqual($point->share + 0.02, $point->low);
            self::assertGreaterThanOrEqual($point->share - 0.02, $point->high);
            self::assertLessThan(0.25, $point->high - $point->low);
        }
        $before = 1.0;
        foreach ($curve as $point) {
            self::assertLessThanOrEqual($before + 1e-9, $point->share);
            $before = $point->share;
        }
    }

    public function testTheEdges(): void
    {
        self::assertSame([], self::curve([]));
        self::assertSame(1.0, Survival::at(self::curve([new Lifetime(0.0)]), 0.0)?->share);
        self::assertEqualsWithDelta(0.0, self::last(self::curve([new Lifetime(0.0, 3.0), new Lifetime(0.0, 3.0)]))->share, 0.01);
        self::assertEqualsWithDelta(1.0, self::last(self::curve([new Lifetime(50.0), new Lifetime(80.0)]))->share, 0.01);
        $this->expectException(\InvalidArgumentException::class);
        new Lifetime(5.0, 4.0);
    }

    /**
     * @param list<Lifetime> $lives
     *
     * @return list<SurvivalPoint>
     */
    private static function curve(array $lives): array
    {
        mt_srand(1);

        return Survival::of($lives, static fn (int $below): int => mt_rand(0, $below - 1));
    }

    /** @param list<SurvivalPoint> $curve */
    private static function last(array $curve): SurvivalPoint
    {
        self::assertNotSame([], $curve);

        return $curve[\count($curve) - 1];
    }
}
