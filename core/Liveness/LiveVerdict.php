<?php

declare(strict_types=1);

namespace Ypomna\Core\Liveness;

/** What one check of an address shows. */
enum LiveVerdict: string
{
    case Alive = 'alive';
    case Moved = 'moved';
    case Changed = 'changed';
    case Vanished = 'vanished';
    case Blocked = 'blocked';
    case Unreachable = 'unreachable';
}
