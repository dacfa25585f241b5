<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Value;

/** In which order items are listed. */
enum ItemOrder: string
{
    /** As people put them, within a dossier or under an item; elsewhere as they came. */
    case Hand = 'hand';
    case Newest = 'newest';
    case Oldest = 'oldest';
    case Title = 'title';
    /** What is due first; what is not due at all comes last. */
    case Due = 'due';
}
