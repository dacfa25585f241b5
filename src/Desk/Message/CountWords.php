<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Message;

use Ypomna\App\Shared\Queue\QueuedMessage;

/** A worker is to count the words of pages that were not counted yet. */
final readonly class CountWords implements QueuedMessage
{
}
