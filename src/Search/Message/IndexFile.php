<?php

declare(strict_types=1);

namespace Ypomna\App\Search\Message;

use Ypomna\App\Shared\Queue\QueuedMessage;

/** A worker is to take the words of a file's captures into the index. */
final readonly class IndexFile implements QueuedMessage
{
    /** @param int $behind place of the page that was taken last; -1 at the beginning */
    public function __construct(public int $file, public int $behind = -1)
    {
    }
}
