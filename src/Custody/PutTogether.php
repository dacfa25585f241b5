<?php

declare(strict_types=1);

namespace Ypomna\App\Custody;

use Ypomna\App\Queued;

/** A worker is to put that parcel together. */
final readonly class PutTogether implements Queued
{
    public const PROCESSOR_SECONDS = 43_200;

    public function __construct(public int $parcelId)
    {
    }
}
