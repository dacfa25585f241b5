<?php

declare(strict_types=1);

namespace Ypomna\App\Search\Message;

use Ypomna\App\Shared\Queue\QueuedMessage;

/** Take what has a tag that was changed once more, from some item and some description on. */
final readonly class FollowTag implements QueuedMessage
{
    public function __construct(public int $tag, public int $item = 0, public int $description = 0)
    {
    }
}
