<?php

declare(strict_types=1);

namespace Ypomna\App\Access;

/** What somebody needs to be allowed for a route, a command or a button. */
enum Right: string
{
    /** Read, download, compare. */
    case Read = 'read';
    /** Capture, import, describe, check, watch. */
    case Keep = 'keep';
    /** Verify, join addresses, give out everything. */
    case Guard = 'guard';
    /** People and settings. */
    case Administer = 'administer';
}
