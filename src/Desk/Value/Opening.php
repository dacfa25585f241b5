<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Value;

/** To whom a dossier is open beside its people. */
enum Opening: string
{
    /** To nobody. */
    case Private = 'private';
    /** To nobody but those to whom shares of it were given. */
    case Shared = 'shared';
    /** To everybody who has signed in, to read. */
    case All = 'all';
}
