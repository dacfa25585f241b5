<?php

declare(strict_types=1);

namespace Ypomna\App\Exchange\Message;

use Ypomna\App\Shared\Queue\QueuedMessage;

/** A worker is to put that parcel together. */
final readonly class BuildParcel implements QueuedMessage
{
    public const PROCESSOR_SECONDS = 43_200;

    public function __construct(public int $parcelId)
    {
    }
}
