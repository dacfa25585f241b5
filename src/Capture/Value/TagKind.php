<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Value;

/** What a tag says. */
enum TagKind: string
{
    case Place = 'place';
    case Person = 'person';
    case Theme = 'theme';
    /** How far something is: to check, confirmed. */
    case State = 'state';
    /** Whatever else somebody means by it. */
    case Own = 'own';
}
