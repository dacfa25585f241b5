<?php

declare(strict_types=1);

namespace Ypomna\App\Capture;

use Ypomna\App\Queued;

/** A worker is to keep the page of that job. */
final readonly class KeepPage implements Queued
{
    public function __construct(public int $jobId)
    {
    }
}
