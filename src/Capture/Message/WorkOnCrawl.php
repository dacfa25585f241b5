<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Message;

use Ypomna\App\Shared\Queue\QueuedMessage;

/** A worker's turn at a site. */
final readonly class WorkOnCrawl implements QueuedMessage
{
    /**
     * @param int $slotId whoever works in this slot has a file of its own
     * @param int $turn goes up with each: what was delivered twice is known by it
     */
    public function __construct(public int $slotId, public int $turn)
    {
    }
}
