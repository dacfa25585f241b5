<?php

declare(strict_types=1);

namespace Ypomna\App\Capture;

/** A worker is to keep the page of that job. */
final readonly class KeepPage
{
    public function __construct(public int $jobId)
    {
    }
}
