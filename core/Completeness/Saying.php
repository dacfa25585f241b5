<?php

declare(strict_types=1);

namespace Ypomna\Core\Completeness;

/** How clearly a sentence says something. */
enum Saying
{
    case No;
    /** The words are there; they may be meant of anything. */
    case Perhaps;
    /** Of a page, an article or the like. */
    case Plainly;
    /** And nothing else. */
    case Wholly;
}
