<?php

declare(strict_types=1);

namespace Ypomna\Core\Page;

/** A link as a reader can follow it. */
final readonly class Link
{
    public function __construct(
        public string $text,
        /** Resolved where the page's base is known, else as written. */
        public string $href,
    ) {
    }
}
