<?php

declare(strict_types=1);

namespace Ypomna\App\Access;

/** Why somebody may see what is limited to some. */
enum Ground: string
{
    /** They made it, and said that it is confidential. */
    case Made = 'made';
    /** The dossier holds it; its people may see it. */
    case Held = 'held';
    /** They belong to it: a dossier. */
    case Member = 'member';
    /** Nobody may see it but who sees everything, whatever else was granted. */
    case Closed = 'closed';
}
