<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Lists;

use Ypomna\App\Queued;

/** A worker is to see which pages of that list can be kept now. */
final readonly class WorkList implements Queued
{
    public function __construct(public int $listId)
    {
    }
}
