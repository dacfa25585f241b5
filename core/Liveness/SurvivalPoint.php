<?php

declare(strict_types=1);

namespace Ypomna\Core\Liveness;

/** What share of pages lives at least so long. */
final readonly class SurvivalPoint
{
    /**
     * @param float $share 0 to 1
     * @param float $low of the band
     * @param float $high of it
     * @param int $known how many pages were seen alive at that age or later
     */
    public function __construct(public float $days, public float $share, public float $low, public float $high, public int $known)
    {
    }
}
