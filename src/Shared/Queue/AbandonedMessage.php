<?php

declare(strict_types=1);

namespace Ypomna\App\Shared\Queue;

/** A message is not tried again: every worker that took it came to an end over it, by the limit of time, of memory, or otherwise. */
final readonly class AbandonedMessage
{
    public const WHY = 'Every worker that took it on came to an end over it, so it is not tried again.';

    public function __construct(public QueuedMessage $message)
    {
    }
}
