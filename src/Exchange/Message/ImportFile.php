<?php

declare(strict_types=1);

namespace Ypomna\App\Exchange\Message;

use Ypomna\App\Shared\Queue\QueuedMessage;

/** A worker is to take in the file of that arrival. */
final readonly class ImportFile implements QueuedMessage
{
    public const PROCESSOR_SECONDS = 43_200;

    public function __construct(public int $arrivalId)
    {
    }
}
