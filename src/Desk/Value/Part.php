<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Value;

/** What somebody does in a dossier; each may do what the one before may. */
enum Part: string
{
    /** Sees what lies in it. */
    case Reader = 'reader';
    /** Lays captures into it and takes them out, makes dossiers in it. */
    case Writer = 'writer';
    /** Says who belongs to it, and to whom it is open; moves it, renames it, deletes it. */
    case Lead = 'lead';

    public function reaches(self $other): bool
    {
        return array_search($this, self::cases(), true) >= array_search($other, self::cases(), true);
    }
}
