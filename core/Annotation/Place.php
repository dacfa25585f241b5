<?php

declare(strict_types=1);

namespace Ypomna\Core\Annotation;

/** What became of the words that a mark is about. */
enum Place: string
{
    /** They stand there, in the place that is meant. */
    case Same = 'same';
    /** The passage stands, its marked words were changed. */
    case Reworded = 'reworded';
    case Gone = 'gone';
}
