<?php

declare(strict_types=1);

namespace Ypomna\App\Search\Message;

use Ypomna\App\Shared\Queue\QueuedMessage;

/** Read what a capture shows but does not say. */
final readonly class ReadCaptureFiles implements QueuedMessage
{
    public function __construct(public int $capture)
    {
    }
}
