<?php

declare(strict_types=1);

namespace Ypomna\App\Api\Value;

/** Who made a copy that is handed in. */
enum SeenBy: string
{
    /** A witness's browser. */
    case Browser = 'browser';
}
