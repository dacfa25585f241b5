<?php

declare(strict_types=1);

namespace Ypomna\App\Exchange\Value;

/** How far a parcel has come. */
enum ParcelState: string
{
    case Waiting = 'waiting';
    case Ready = 'ready';
    case Failed = 'failed';
}
