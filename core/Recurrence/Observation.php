<?php

declare(strict_types=1);

namespace Ypomna\Core\Recurrence;

/** What a check told: whether the page had changed since the check before it. How often it had is not known. */
final readonly class Observation
{
    public function __construct(public float $days, public bool $changed)
    {
        if ($days <= 0.0 || is_nan($days) || is_infinite($days)) {
            throw new \InvalidArgumentException('Two checks lie some time apart.');
        }
    }
}
