<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Value;

/** How two things hang together. */
enum TieKind: string
{
    /** Somebody made a link. */
    case Link = 'link';
    /** A note names it. */
    case Note = 'note';
    /** The second lies under the first. */
    case Above = 'above';
}
