<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue\Event;

/** The catalogue is about to be made anew: what was drawn from its captures goes with them. */
final readonly class CatalogueEmptied
{
}
