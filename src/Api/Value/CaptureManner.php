<?php

declare(strict_types=1);

namespace Ypomna\App\Api\Value;

/** How a page is to be captured. */
enum CaptureManner: string
{
    /** By a browser, as a reader would see it. */
    case Rendered = 'rendered';
    /** Without one: quick, and no script runs. */
    case Plain = 'plain';
}
