<?php

declare(strict_types=1);

namespace Ypomna\App\Search\Value;

/** When words stood on a page: as far as its captures tell, and whoever asks sees them. */
final readonly class Stood
{
    /**
     * @param int $captures in how many captures
     * @param int $of how many there are
     * @param \DateTimeImmutable|null $absentSince of the first capture without them after the last with them; null if there is none
     */
    public function __construct(
        public \DateTimeImmutable $first,
        public \DateTimeImmutable $last,
        public int $captures,
        public int $of,
        public ?\DateTimeImmutable $absentSince = null,
    ) {
    }
}
