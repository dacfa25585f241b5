<?php

declare(strict_types=1);

namespace Ypomna\Core\Liveness;

/** What all checks of an address amount to. */
final readonly class Conclusion
{
    /**
     * @param bool $isFinal false while *vanished* rests on too few checks, too close together
     * @param \DateTimeImmutable $since the first look of those in a row that found this verdict
     * @param \DateTimeImmutable|null $lastSeen when the page was seen last, in a check or in a capture; null: never
     * @param int $checks how many checks in a row found it
     * @param int $counted how many of them lay far enough apart to count
     * @param \DateTimeImmutable $nextCheck when another check would tell more
     * @param float $confidence 0 to 1
     */
    public function __construct(
        public LiveVerdict $verdict,
        public LiveReason $reason,
        public bool $isFinal,
        public \DateTimeImmutable $since,
        public ?\DateTimeImmutable $lastSeen,
        public int $checks,
        public int $counted,
        public \DateTimeImmutable $nextCheck,
        public float $confidence,
    ) {
    }
}
