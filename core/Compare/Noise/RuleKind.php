<?php

declare(strict_types=1);

namespace Ypomna\Core\Compare\Noise;

enum RuleKind: string
{
    /** A part of the page, by selector, and by the words that stood there when it was pointed at. */
    case Region = 'region';
    /** What a regular expression matches. */
    case Pattern = 'pattern';
}
