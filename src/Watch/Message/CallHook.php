<?php

declare(strict_types=1);

namespace Ypomna\App\Watch\Message;

use Ypomna\App\Shared\Queue\QueuedMessage;

/** A worker is to tell a web hook of an event. */
final readonly class CallHook implements QueuedMessage
{
    public function __construct(public int $eventId)
    {
    }
}
