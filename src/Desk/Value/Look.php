<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Value;

/** How the items of a dossier are looked at. */
enum Look: string
{
    /** A table. */
    case Register = 'register';
    /** Pictures of the pages. */
    case Wall = 'wall';
    /** What lies in what. */
    case Outline = 'outline';
    /** A line of time. */
    case Chronology = 'chronology';
}
