<?php

declare(strict_types=1);

namespace Ypomna\Core\Liveness;

/**
 * The life of a page as far as looks at it tell: spells in which it stood in one way, and between them the gaps in what
 * is known. Two checks that agree bound a spell unless they lie much further apart than checks of this page usually do.
 */
final class Spells
{
    private const DAY = 86_400;
    /** Times the usual distance between checks, and at least and at most so many days. */
    private const FACTOR = 6;
    private const LEAST = 30;
    private const MOST = 400;

    /**
     * @param list<Sight> $sights oldest first
     *
     * @return list<Spell> one behind the other, from the first check to the last
     */
    public static function of(array $sights): array
    {
        if ([] === $sights) {
            return [];
        }
        $patience = self::patience($sights);
        $spells = [];
        $begun = 0;
        foreach ($sights as $n => $sight) {
            $next = $sights[$n + 1] ?? null;
            $goesOn = null !== $next && $next->standing === $sight->standing
                && $next->from->getTimestamp() - $sight->to->getTimestamp() <= $patience;
            if ($goesOn) {
                continue;
            }
            $spells[] = new Spell($sights[$begun]->from, $sight->to, $begun, $n, $sight->standing);
            if (null !== $next) {
                $spells[] = new Spell(
                    $sight->to, $next->from, $n, $n + 1, null, $next->standing === $sight->standing ? null : $next->standing,
                );
            }
            $begun = $n + 1;
        }

        return $spells;
    }

    /**
     * @param non-empty-list<Sight> $sights
     *
     * @return int seconds
     */
    private static function patience(array $sights): int
    {
        $distances = [];
        foreach (\array_slice($sights, 1) as $n => $sight) {
            $distances[] = $sight->from->getTimestamp() - $sights[$n]->to->getTimestamp();
        }
        sort($distances);
        $usual = $distances[intdiv(\count($distances), 2)] ?? 0;

        return max(self::LEAST * self::DAY, min(self::MOST * self::DAY, self::FACTOR * $usual));
    }
}
