<?php

declare(strict_types=1);

namespace Ypomna\App\Capture;

use Ypomna\Core\Fetch\Limits;

/** How one page is to be kept. */
final readonly class CaptureOrder
{
    /**
     * @param bool $rendered whether a browser loads it; else it is fetched with its requisites, and no script runs
     * @param bool $obey     whether what robots.txt says binds
     * @param bool $insecure whether a server whose certificate cannot be trusted is asked all the same
     * @param bool $packed   whether each record becomes a gzip member
     * @param bool $scripts  whether the page's scripts run
     * @param int  $width    of the window, in pixels
     */
    public function __construct(
        public bool $rendered = true,
        public Limits $limits = new Limits(),
        public bool $obey = false,
        public bool $insecure = false,
        public bool $packed = true,
        public bool $scripts = true,
        public int $width = 1280,
        public int $height = 800,
    ) {
    }
}
