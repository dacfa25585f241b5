<?php

declare(strict_types=1);

namespace Ypomna\App\Shared\Queue;

use Ypomna\App\Shared\Explanation;

/** A message is not tried again: every worker that took it came to an end over it, by the limit of time, of memory, or otherwise. */
final readonly class AbandonedMessage
{
    public function __construct(public QueuedMessage $message)
    {
    }

    public static function why(): Explanation
    {
        return new Explanation('ui.every_worker_came_to_an_end');
    }
}
