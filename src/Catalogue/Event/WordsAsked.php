<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue\Event;

use Ypomna\App\Shared\Viewer;

/** Somebody asked for words, not for an address: whoever knows where these stand leads there. */
final class WordsAsked
{
    /** Route at which they are found. */
    public ?string $leadsTo = null;
    /** Route at which others are offered, where nothing is found otherwise. */
    public ?string $offers = null;

    public function __construct(public readonly Viewer $viewer, public readonly string $typed)
    {
    }
}
