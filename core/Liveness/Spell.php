<?php

declare(strict_types=1);

namespace Ypomna\Core\Liveness;

/** A span of time in which a page is known to have stood in one way, or of which nothing is known. */
final readonly class Spell
{
    /**
     * @param int $first number of the check that it begins with
     * @param int $last number of the check that it ends with
     * @param Standing|null $standing how it stood; null where nobody knows
     * @param Standing|null $became where nothing is known and it stood otherwise afterwards: how
     */
    public function __construct(
        public \DateTimeImmutable $from,
        public \DateTimeImmutable $to,
        public int $first,
        public int $last,
        public ?Standing $standing,
        public ?Standing $became = null,
    ) {
    }

    public function days(): int
    {
        return intdiv($this->to->getTimestamp() - $this->from->getTimestamp(), 86_400);
    }
}
