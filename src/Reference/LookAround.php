<?php

declare(strict_types=1);

namespace Ypomna\App\Reference;

use Ypomna\App\Queued;

/** A worker is to look at addresses that are waiting for it. */
final readonly class LookAround implements Queued
{
}
