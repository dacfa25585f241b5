<?php

declare(strict_types=1);

namespace Ypomna\Core\Liveness;

/** A check that was taken, and what it showed. */
final readonly class PastCheck
{
    public function __construct(public \DateTimeImmutable $at, public LiveReason $reason, public float $confidence = 1.0)
    {
    }
}
