<?php

declare(strict_types=1);

namespace Ypomna\App\Shared\Queue;

/** A message to a worker: its constructor takes what its public properties hold, numbers, texts and truths only. */
interface QueuedMessage
{
    /** @var int what the work for one message may take of the processor, in seconds; one that goes through all holdings says more */
    public const PROCESSOR_SECONDS = 900;
}
