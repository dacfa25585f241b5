<?php

declare(strict_types=1);

namespace Ypomna\Tests\Support;

use Psr\Clock\ClockInterface;
use Ypomna\App\Shared\ApplicationClock;

/** The application's clock, and how far a test has gone ahead of it. It goes on by itself: what comes later has a later moment. */
final class TestClock implements ClockInterface
{
    private static string $ahead = '+0 seconds';

    private function __construct(private readonly ClockInterface $clock)
    {
    }

    /** @param string $dsn of the application's clock */
    public static function over(string $dsn): self
    {
        return new self(ApplicationClock::fromDsn($dsn));
    }

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
        return $this->clock->now()->modify(self::$ahead);
    }
}
