<?php

declare(strict_types=1);

namespace Ypomna\App\Api\Value;

use Ypomna\App\Exchange\Entity\Arrival;

/** A file that a program has begun to hand in, and has not finished. */
final readonly class ComingUpload
{
    public function __construct(public Arrival $arrival)
    {
    }
}
