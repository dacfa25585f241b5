<?php

declare(strict_types=1);

namespace Ypomna\App\Ui\Demo;

use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Ypomna\Standin\Web\Clock;

/** The clock of the stand-in web, which the demo's application follows; while the demo is loaded it plays the past. */
final readonly class DemoClock
{
    private ?Clock $clock;

    public function __construct(#[Autowire('%env(CLOCK_DSN)%')] string $dsn)
    {
        $this->clock = str_starts_with($dsn, 'standin:') ? new Clock(substr($dsn, 8)) : null;
    }

    public function now(): \DateTimeImmutable
    {
        return $this->clock()->now();
    }

    public function set(\DateTimeImmutable $moment): void
    {
        $this->clock()->set($moment->format('Y-m-d\TH:i:s.u\Z'));
    }

    private function clock(): Clock
    {
        return $this->clock ?? throw new \LogicException('Only the demo’s clock can be set; this installation keeps real time.');
    }
}
