<?php

declare(strict_types=1);

namespace Ypomna\App\Search\Event;

use Ypomna\App\Search\Value\SavedQuestion;

/** Something is found for a question that somebody has watched. */
final readonly class NewlyFound
{
    public function __construct(public string $person, public SavedQuestion $question)
    {
    }
}
