<?php

declare(strict_types=1);

namespace Ypomna\Core\Compare;

enum ChangeKind: string
{
    case Added = 'added';
    case Removed = 'removed';
    case Changed = 'changed';
    case Moved = 'moved';
}
