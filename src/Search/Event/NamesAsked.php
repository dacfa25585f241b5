<?php

declare(strict_types=1);

namespace Ypomna\App\Search\Event;

use Ypomna\App\Shared\Viewer;

/** Somebody begins to type: whoever knows people of such names says so, as far as whoever types may know them. */
final class NamesAsked
{
    /** @var list<string> */
    public array $names = [];

    public function __construct(public readonly Viewer $viewer, public readonly string $typed, public readonly int $most)
    {
    }
}
