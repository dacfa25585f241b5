<?php

declare(strict_types=1);

namespace Ypomna\App\Shared;

/** What somebody is in this house. Only the gate (`Access\Gate`) decides what follows from it. */
enum Role: string
{
    case Reader = 'reader';
    case Keeper = 'keeper';
    case Custodian = 'custodian';
    case Administrator = 'administrator';
}
