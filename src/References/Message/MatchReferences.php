<?php

declare(strict_types=1);

namespace Ypomna\App\References\Message;

use Ypomna\App\Shared\Queue\QueuedMessage;

/** A worker is to look for the captures that the references of a list mean; and, if asked for, in other archives. */
final readonly class MatchReferences implements QueuedMessage
{
    public function __construct(public int $listId, public int $after = 0, public bool $elsewhere = false)
    {
    }
}
