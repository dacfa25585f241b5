<?php

declare(strict_types=1);

namespace Ypomna\App\Compare\Message;

use Ypomna\App\Shared\Queue\QueuedMessage;

/** A worker is to draw the lifelines of an address. */
final readonly class DrawLifelines implements QueuedMessage
{
    public function __construct(public int $address)
    {
    }
}
