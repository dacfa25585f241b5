<?php

declare(strict_types=1);

namespace Ypomna\Core\Liveness;

/** What one look at an address shows. */
enum LiveVerdict: string
{
    case Alive = 'alive';
    case Moved = 'moved';
    case Changed = 'changed';
    case Vanished = 'vanished';
    case Blocked = 'blocked';
    case Unreachable = 'unreachable';
}
