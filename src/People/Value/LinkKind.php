<?php

declare(strict_types=1);

namespace Ypomna\App\People\Value;

/** What a link that is used once lets somebody do. */
enum LinkKind: string
{
    /** Become the first person, an administrator. */
    case First = 'first';
    case Invitation = 'invite';
    /** Choose a new password. */
    case Reset = 'reset';
}
