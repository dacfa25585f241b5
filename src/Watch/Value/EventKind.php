<?php

declare(strict_types=1);

namespace Ypomna\App\Watch\Value;

/** What there is to tell. */
enum EventKind: string
{
    case Changed = 'changed';
    case Vanished = 'vanished';
    case Returned = 'returned';
    case Reminder = 'reminder';
}
