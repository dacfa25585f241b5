<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Message;

use Ypomna\App\Shared\Queue\QueuedMessage;

/** A worker is to keep the page of that job. */
final readonly class CapturePage implements QueuedMessage
{
    public function __construct(public int $jobId)
    {
    }
}
