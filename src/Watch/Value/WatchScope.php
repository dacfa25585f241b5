<?php

declare(strict_types=1);

namespace Ypomna\App\Watch\Value;

/** What a watch looks at. */
enum WatchScope: string
{
    case Address = 'address';
    case References = 'list';
    case Folder = 'folder';
    case Host = 'host';
}
