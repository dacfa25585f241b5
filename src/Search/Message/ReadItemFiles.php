<?php

declare(strict_types=1);

namespace Ypomna\App\Search\Message;

use Ypomna\App\Shared\Queue\QueuedMessage;

/** Read the files of an item. */
final readonly class ReadItemFiles implements QueuedMessage
{
    public function __construct(public int $item)
    {
    }
}
