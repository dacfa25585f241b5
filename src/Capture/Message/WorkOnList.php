<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Message;

use Ypomna\App\Shared\Queue\QueuedMessage;

/** A worker is to see which pages of that list can be kept now. */
final readonly class WorkOnList implements QueuedMessage
{
    public function __construct(public int $listId)
    {
    }
}
