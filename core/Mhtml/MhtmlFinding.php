<?php

declare(strict_types=1);

namespace Ypomna\Core\Mhtml;

/** One thing that is wrong with an MHTML file. */
final readonly class MhtmlFinding
{
    public function __construct(
        public MhtmlFindingCode $code,
        /** Number of the part in the file, from 0; null if it is none's. */
        public ?int $part,
        public string $message,
    ) {
    }
}
