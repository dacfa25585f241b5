<?php

declare(strict_types=1);

namespace Ypomna\App\Custody;

use Ypomna\App\Queued;

/** A worker is to take in the file of that arrival. */
final readonly class TakeInFile implements Queued
{
    public const PROCESSOR_SECONDS = 43_200;

    public function __construct(public int $arrivalId)
    {
    }
}
