<?php

declare(strict_types=1);

namespace Ypomna\App\Custody;

/** A worker is to put that parcel together. */
final readonly class PutTogether
{
    public function __construct(public int $parcelId)
    {
    }
}
