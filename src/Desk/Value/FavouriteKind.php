<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Value;

/** What can be a favourite; the value is also the name of the route that shows it, but for captures. */
enum FavouriteKind: string
{
    case Address = 'address';
    case Capture = 'capture';
    case Dossier = 'dossier';

    /** The route that shows one, by its code. */
    public function route(): string
    {
        return self::Capture === $this ? 'read' : $this->value;
    }
}
