<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Sites\Value;

use Ypomna\Core\Address\Url;

/** A page of a site that a worker has taken. */
final readonly class TakenPage
{
    /**
     * @param string $role `page`, or `map` for what names pages: a sitemap, a feed
     * @param int $depth links from the first pages
     * @param int $attempts this one included
     * @param string|null $kind hash of what its address has in common with others, as bytes
     */
    public function __construct(
        public int $id,
        public Url $url,
        public string $keyHash,
        public string $role,
        public int $depth,
        public int $attempts,
        public ?string $kind,
    ) {
    }
}
