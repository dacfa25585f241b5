<?php

declare(strict_types=1);

namespace Ypomna\App\People\Message;

use Ypomna\App\Shared\Queue\QueuedMessage;

/** Somebody asked for a new password, by a name or a mail address as they typed it. Whether it is anybody's is found out later. */
final readonly class SendReset implements QueuedMessage
{
    public function __construct(public string $typed)
    {
    }
}
