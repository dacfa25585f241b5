<?php

declare(strict_types=1);

namespace Ypomna\App\Search\Message;

use Ypomna\App\Shared\Queue\QueuedMessage;

/** A worker is to take the words of all items into the index. */
final readonly class IndexItems implements QueuedMessage
{
    /** @param int $behind number of the item that was taken last */
    public function __construct(public int $behind = 0)
    {
    }
}
