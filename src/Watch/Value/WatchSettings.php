<?php

declare(strict_types=1);

namespace Ypomna\App\Watch\Value;

/** What holds for all watches. */
final readonly class WatchSettings
{
    public const MOST_A_DAY = 1_000_000;
    public const BUDGET = 500.0;
    public const DIGEST_AT = '08:00';

    /**
     * @param float $budget checks a day, for all pages whose frequency is found out
     * @param float $bound the worth from which on a check pays; see Schedule
     * @param string $mailTo '' for no mail
     * @param string $digestAt time of day, as 08:00
     * @param string $quietFrom begin of the hours in which nothing is told; '' for none
     */
    public function __construct(
        public float $budget,
        public float $bound,
        public ?\DateTimeImmutable $plannedAt,
        public string $mailTo,
        public string $digestAt,
        public string $quietFrom,
        public string $quietTo,
        public string $zone,
        public ?\DateTimeImmutable $digestedAt,
    ) {
    }

    /** Whether nothing is to be told now. */
    public function isQuiet(\DateTimeImmutable $now): bool
    {
        if ('' === $this->quietFrom || '' === $this->quietTo || $this->quietFrom === $this->quietTo) {
            return false;
        }
        $time = $now->setTimezone(new \DateTimeZone($this->zone))->format('H:i');

        // The hours may go over midnight.
        return $this->quietFrom < $this->quietTo
            ? $time >= $this->quietFrom && $time < $this->quietTo
            : $time >= $this->quietFrom || $time < $this->quietTo;
    }

    /** The last moment up to now at which a digest was to be sent. */
    public function lastDigest(\DateTimeImmutable $now): \DateTimeImmutable
    {
        $local = $now->setTimezone(new \DateTimeZone($this->zone));
        [$hour, $minute] = array_map(intval(...), explode(':', $this->digestAt.':0'));
        $today = $local->setTime($hour, $minute);

        return $today <= $local ? $today : $today->modify('-1 day')->setTime($hour, $minute);
    }
}
