<?php

declare(strict_types=1);

namespace Ypomna\App\Liveness\Message;

use Ypomna\App\Shared\Queue\QueuedMessage;

/** A worker is to look at addresses that are waiting for it. */
final readonly class CheckQueuedAddresses implements QueuedMessage
{
}
