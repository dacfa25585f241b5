<?php

declare(strict_types=1);

namespace Ypomna\App\Compare\Message;

use Ypomna\App\Shared\Queue\QueuedMessage;

/** A worker is to read the pages of a file for their titles, and to measure how much each changed. */
final readonly class DescribeFile implements QueuedMessage
{
    /** @param int $behind place of the page that was read last; -1 at the beginning */
    public function __construct(public int $file, public int $behind = -1)
    {
    }
}
