<?php

declare(strict_types=1);

namespace Ypomna\App\Replay;

use Ypomna\Core\Address\Url;

/** What is asked of the archive's pages. */
final readonly class PageRequest
{
    public function __construct(
        public Url $url,
        /** The address as it was spelled. */
        public string $spelled,
        /** By which it is read: see {@see ReadingRights}. */
        public string $label,
        public ReplayMode $mode,
        /** Whether nothing from other captures stands in for what is missing. */
        public bool $only = false,
        /** Whether it came to where long names are led on, and is to go to its own host: see {@see PageHosts::THROUGH}. */
        public bool $through = false,
        /** Whether its host is named by a mark, which nobody can read back. */
        public bool $long = false,
    ) {
    }
}
