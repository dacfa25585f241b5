<?php

declare(strict_types=1);

namespace Ypomna\Core\Completeness;

/** Whether a capture worked. */
enum Verdict: string
{
    case Whole = 'whole';
    case Gaps = 'gaps';
    case Failed = 'failed';
}
