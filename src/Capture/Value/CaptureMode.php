<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Value;

/** How a page is kept. */
enum CaptureMode: string
{
    /** Loaded in a browser, through the recording gateway. */
    case Rendered = 'rendered';
    /** Fetched with its requisites; no script runs. */
    case Plain = 'plain';
    /** Only what an earlier capture lacks. */
    case Parts = 'parts';
}
