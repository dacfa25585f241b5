<?php

declare(strict_types=1);

namespace Ypomna\Core\Fetch;

/** What one capture may cost at most. */
final readonly class Limits
{
    public function __construct(
        public int $maxSeconds = 120,
        /** Of all answers together, as they came over the wire. */
        public int $maxBytes = 268_435_456,
        public int $maxExchanges = 5_000,
        /** Longest silence of a server before its answer is given up. */
        public int $idleSeconds = 30,
        public int $connectSeconds = 10,
    ) {
    }
}
