<?php

declare(strict_types=1);

namespace Ypomna\App\Watch\Value;

/** Where a watch stands. */
enum WatchState: string
{
    case Running = 'running';
    case Paused = 'paused';
    case Ended = 'ended';
}
