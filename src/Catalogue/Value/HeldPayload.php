<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue\Value;

/** Where a record stands that has the payload which another one refers to. */
final readonly class HeldPayload
{
    public function __construct(
        /** In the store. */
        public string $path,
        public int $offset,
    ) {
    }
}
