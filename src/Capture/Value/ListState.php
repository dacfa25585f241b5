<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Value;

/** Where a list of pages stands. */
enum ListState: string
{
    case Running = 'running';
    case Paused = 'paused';
    case Cancelled = 'cancelled';
    case Done = 'done';
}
