<?php

declare(strict_types=1);

namespace Ypomna\Core\Fixity;

/** Something in the ledger that is not as it was written. */
final readonly class LedgerFinding
{
    public function __construct(
        /** Number of the line in the file, from 1. */
        public int $line,
        public string $message,
    ) {
    }
}
