<?php

declare(strict_types=1);

namespace Ypomna\Core\Compare;

/** What became of text that is or was in a page without being shown. */
enum HiddenKind: string
{
    /** It was shown before. */
    case Hid = 'hid';
    /** It was there and not shown. */
    case Shown = 'shown';
    case Added = 'added';
    case Removed = 'removed';
}
