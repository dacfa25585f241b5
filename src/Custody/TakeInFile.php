<?php

declare(strict_types=1);

namespace Ypomna\App\Custody;

/** A worker is to take in the file of that arrival. */
final readonly class TakeInFile
{
    public function __construct(public int $arrivalId)
    {
    }
}
