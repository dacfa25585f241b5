<?php

declare(strict_types=1);

namespace Ypomna\Core\Compare;

/** Whether a change matters. */
enum Weight: string
{
    /** Something else is said now. */
    case Substance = 'substance';
    /** The same is said in other letters, signs or another place. */
    case Surface = 'surface';
    /** What changes by itself: counters, dates of making, advertisements. */
    case Noise = 'noise';
}
