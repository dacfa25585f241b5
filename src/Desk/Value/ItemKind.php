<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Value;

/** What an item is. */
enum ItemKind: string
{
    /** A page at a moment. */
    case Capture = 'capture';
    /** A page, whenever. */
    case Address = 'address';
    case Note = 'note';
    /** A piece that was picked out of something. */
    case Excerpt = 'excerpt';
    case File = 'file';
    case Recording = 'recording';
}
