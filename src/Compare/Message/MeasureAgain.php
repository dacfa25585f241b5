<?php

declare(strict_types=1);

namespace Ypomna\App\Compare\Message;

use Ypomna\App\Shared\Queue\QueuedMessage;

/** A worker is to measure anew how much the captures of a place changed, since its rules are others now. */
final readonly class MeasureAgain implements QueuedMessage
{
    /** @param int $behind number of the capture that was measured last; 0 at the beginning */
    public function __construct(public string $place, public bool $isAddress, public int $behind = 0)
    {
    }
}
