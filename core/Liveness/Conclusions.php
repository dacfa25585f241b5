<?php

declare(strict_types=1);

namespace Ypomna\Core\Liveness;

/**
 * Draws the conclusion from several checks. Temporary trouble is not death: *vanished* is final when three checks found it, the
 * second at least six hours after the first, the third at least two days after the second. Checks at which the server was not
 * reached, or let nobody in, neither confirm it nor undo it; a check that found the page does.
 */
final class Conclusions
{
    private const HOUR = 3_600;
    private const DAY = 86_400;
    /** Least distances between the checks that make *vanished* final, in seconds. */
    private const CONFIRM = [6 * self::HOUR, 2 * self::DAY];
    /** When to come back after trouble, in seconds, by how often it was found in a row. */
    private const TROUBLE = [self::HOUR, 6 * self::HOUR, self::DAY, 3 * self::DAY, 7 * self::DAY, 14 * self::DAY, 30 * self::DAY];
    private const ALIVE_AGAIN = 30 * self::DAY;
    private const GONE_AGAIN = 90 * self::DAY;

    /**
     * @param list<PastCheck> $checks oldest first
     * @param \DateTimeImmutable|null $lastHeld moment of the last capture that has the page itself
     */
    public static function of(array $checks, ?\DateTimeImmutable $lastHeld = null): ?Conclusion
    {
        $last = $checks[\count($checks) - 1] ?? null;
        if (null === $last) {
            return null;
        }
        $verdict = $last->reason->verdict();
        $lastSeen = $lastHeld;
        foreach ($checks as $check) {
            if (self::wasSeen($check->reason)) {
                $lastSeen = max($lastSeen ?? $check->at, $check->at);
            }
        }
        // Trouble hides what was found before it: a page that was final once stays so.
        [$vanished, $gone] = self::gone($checks);
        $isFinal = \count($vanished) > \count(self::CONFIRM);
        if ($isFinal && LiveVerdict::Unreachable === $verdict) {
            $last = $gone[\count($gone) - 1];
            $verdict = LiveVerdict::Vanished;
        }
        $row = LiveVerdict::Vanished === $verdict ? $gone : self::row($checks, $verdict);
        $counted = LiveVerdict::Vanished === $verdict ? \count($vanished) : \count($row);

        return new Conclusion(
            $verdict, $last->reason, LiveVerdict::Vanished !== $verdict || $isFinal, ($row[0] ?? $last)->at, $lastSeen, \count($row),
            $counted,
            self::next($checks[\count($checks) - 1]->at, $verdict, $last->reason, $vanished, \count($row)),
            self::confidence($last, $verdict, $counted),
        );
    }

    private static function wasSeen(LiveReason $reason): bool
    {
        return \in_array($reason->verdict(), [LiveVerdict::Alive, LiveVerdict::Moved], true);
    }

    /**
     * @param list<PastCheck> $checks
     *
     * @return array{list<PastCheck>, list<PastCheck>} of those since the page was seen last: what counts, and all that found it gone
     */
    private static function gone(array $checks): array
    {
        $counted = $all = [];
        foreach ($checks as $check) {
            $verdict = $check->reason->verdict();
            if (LiveVerdict::Vanished === $verdict) {
                $all[] = $check;
                $before = $counted[\count($counted) - 1] ?? null;
                $distance = self::CONFIRM[\count($counted) - 1] ?? 0;
                if (null === $before || $check->at->getTimestamp() - $before->at->getTimestamp() >= $distance) {
                    $counted[] = $check;
                }
            } elseif (LiveVerdict::Unreachable !== $verdict && LiveVerdict::Blocked !== $verdict) {
                $counted = $all = [];
            }
        }

        return [$counted, $all];
    }

    /**
     * @param list<PastCheck> $checks
     *
     * @return list<PastCheck> the last ones in a row with that verdict
     */
    private static function row(array $checks, LiveVerdict $verdict): array
    {
        $row = [];
        for ($n = \count($checks) - 1; $n >= 0 && $checks[$n]->reason->verdict() === $verdict; --$n) {
            array_unshift($row, $checks[$n]);
        }

        return $row;
    }

    /** @param list<PastCheck> $vanished */
    private static function next(
        \DateTimeImmutable $at,
        LiveVerdict $verdict,
        LiveReason $reason,
        array $vanished,
        int $times,
    ): \DateTimeImmutable {
        if (LiveVerdict::Vanished === $verdict && [] !== $vanished && \count($vanished) <= \count(self::CONFIRM)) {
            $due = $vanished[\count($vanished) - 1]->at->modify(\sprintf('+%d seconds', self::CONFIRM[\count($vanished) - 1]));

            // Another check before that would not count.
            return max($due, $at->modify('+1 minute'));
        }
        $passing = LiveVerdict::Unreachable === $verdict || LiveReason::RateLimit === $reason || LiveReason::Challenge === $reason;
        $seconds = match (true) {
            $passing => self::TROUBLE[min($times, \count(self::TROUBLE)) - 1] ?? self::HOUR,
            LiveVerdict::Vanished === $verdict => self::GONE_AGAIN,
            default => self::ALIVE_AGAIN,
        };

        return $at->modify(\sprintf('+%d seconds', $seconds));
    }

    /** A verdict that several checks found, apart from each other, is surer than one. */
    private static function confidence(PastCheck $last, LiveVerdict $verdict, int $counted): float
    {
        $doubt = 1 - $last->confidence;

        return round(LiveVerdict::Vanished === $verdict ? 1 - $doubt / max(1, $counted) : $last->confidence, 3);
    }
}
