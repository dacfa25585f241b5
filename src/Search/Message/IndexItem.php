<?php

declare(strict_types=1);

namespace Ypomna\App\Search\Message;

use Ypomna\App\Shared\Queue\QueuedMessage;

/** A worker is to take the words of an item into the index, or to take them away. */
final readonly class IndexItem implements QueuedMessage
{
    /** @param int $item its number */
    public function __construct(public int $item)
    {
    }
}
