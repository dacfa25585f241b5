<?php

declare(strict_types=1);

namespace Ypomna\App\Api\Value;

use Ypomna\App\Capture\Entity\CaptureJob;
use Ypomna\App\Exchange\Entity\Arrival;

/** Work that was asked for: a page to be captured, or a file to be taken in. */
final readonly class ToldJob
{
    public function __construct(public CaptureJob|Arrival $job)
    {
    }
}
