<?php

declare(strict_types=1);

namespace Ypomna\Core\Page;

/** A picture that a page shows. */
final readonly class Picture
{
    public function __construct(
        /** Resolved where the page's base is known, else as written. */
        public string $src,
        public string $alt,
        /** How many passages stand before it. */
        public int $behind = 0,
        /** The elements around it, as in {@see Passage::$path}. */
        public string $path = '',
    ) {
    }
}
