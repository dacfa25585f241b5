<?php

declare(strict_types=1);

namespace Ypomna\Core\Replay;

/** What was answered for a part at one moment. */
final readonly class PartSeen
{
    /**
     * @param string|null $digest of the payload; null where it is not known
     * @param \Closure(): (\DateTimeImmutable|null)|null $modified reads what the answer's Last-Modified says
     */
    public function __construct(
        public \DateTimeImmutable $at,
        private int $status,
        private ?string $digest,
        private ?\Closure $modified = null,
    ) {
    }

    /** Whether the same thing was answered: the same payload, or both times none. */
    public function equals(self $other): bool
    {
        if ($this->isNone() || $other->isNone()) {
            return $this->isNone() && $other->isNone();
        }

        return null !== $this->digest && $this->digest === $other->digest;
    }

    public function lastModified(): ?\DateTimeImmutable
    {
        return null === $this->modified || $this->isNone() ? null : ($this->modified)();
    }

    /** Gone or not there; a server's own failure says nothing about the part. */
    private function isNone(): bool
    {
        return 404 === $this->status || 410 === $this->status;
    }
}
