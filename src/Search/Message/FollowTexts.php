<?php

declare(strict_types=1);

namespace Ypomna\App\Search\Message;

use Ypomna\App\Shared\Queue\QueuedMessage;

/** A text stands elsewhere than before: the index is told. */
final readonly class FollowTexts implements QueuedMessage
{
    public function __construct(public int $text)
    {
    }
}
