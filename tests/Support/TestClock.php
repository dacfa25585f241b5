<?php

declare(strict_types=1);

namespace Ypomna\Tests\Support;

use Psr\Clock\ClockInterface;

/** The machine's time, and how far a test has gone ahead of it. It goes on by itself: what comes later has a later moment. */
final class TestClock implements ClockInterface
{
    private static string $ahead = '+0 seconds';

    public static function reset(): void
    {
        self::$ahead = '+0 seconds';
    }

    /** @param string $how long, as in “3 hours” */
    public static function forward(string $how): void
    {
        self::$ahead .= ' +'.$how;
    }

    public function now(): \DateTimeImmutable
    {
        return (new \DateTimeImmutable('now', new \DateTimeZone('UTC')))->modify(self::$ahead);
    }
}
