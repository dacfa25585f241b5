<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue\Event;

/** The catalogue was made anew: files, addresses and captures have other numbers now; paths and codes are as they were. */
final readonly class CatalogueRebuilt
{
}
