<?php

declare(strict_types=1);

namespace Ypomna\Core\Compare;

/** What people look for among changed words. */
enum Telling: string
{
    case Number = 'number';
    case Date = 'date';
    case Name = 'name';
    case Negation = 'negation';
}
