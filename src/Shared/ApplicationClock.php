<?php

declare(strict_types=1);

namespace Ypomna\App\Shared;

use Psr\Clock\ClockInterface;
use Ypomna\Standin\Web\Clock as StandinClock;

/**
 * The application's time. It is the machine's; only in the demo does it follow the clock of the stand-in web, so that
 * a page kept there carries the moment that is played.
 */
final readonly class ApplicationClock implements ClockInterface
{
    private function __construct(private ?StandinClock $standin)
    {
    }

    /** @param string $dsn `system:`, or `standin:` and the path of the stand-in's clock */
    public static function fromDsn(string $dsn): self
    {
        return new self(str_starts_with($dsn, 'standin:') ? new StandinClock(substr($dsn, 8)) : null);
    }

    public function now(): \DateTimeImmutable
    {
        return null === $this->standin ? new \DateTimeImmutable('now', new \DateTimeZone('UTC')) : $this->standin->now();
    }
}
