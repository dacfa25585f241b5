<?php

declare(strict_types=1);

namespace Ypomna\App\Search\Message;

use Ypomna\App\Shared\Queue\QueuedMessage;

/** A worker is to take the words of all captures into the index that are not in it yet. */
final readonly class IndexAll implements QueuedMessage
{
    /** @param int $behind number of the capture that was taken last */
    public function __construct(public int $behind = 0)
    {
    }
}
