<?php

declare(strict_types=1);

namespace Ypomna\App\Api\Value;

use Ypomna\App\Exchange\Value\ParcelOptions;

/** In which format captures are given out. */
enum GivenFormat: string
{
    case Warc = ParcelOptions::WARC;
    case Mhtml = ParcelOptions::MHTML;
    case Pdf = ParcelOptions::PDF;
}
