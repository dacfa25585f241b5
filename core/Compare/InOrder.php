<?php

declare(strict_types=1);

namespace Ypomna\Core\Compare;

/** Pairs what stands between two fixed points of both sides, in order, so that the likeness of all pairs together is greatest. */
final class InOrder
{
    /** Beyond so many pairs, only what is near the same place is compared. */
    private const MOST = 6_000;

    /**
     * @param list<int> $old places, and one beyond
     * @param list<int> $new places, and one beyond
     * @param callable(int, int): float $likeness 0 to 1
     * @param float $least of a pair
     *
     * @return list<array{int, int}>
     */
    public static function pairs(array $old, array $new, callable $likeness, float $least): array
    {
        array_pop($old);
        array_pop($new);
        $rows = \count($old);
        $columns = \count($new);
        if (0 === $rows || 0 === $columns) {
            return [];
        }
        $band = $rows * $columns <= self::MOST ? $columns : max(3, intdiv(self::MOST, $rows + $columns));
        $candidates = $weights = [];
        foreach ($new as $column => $j) {
            $middle = intdiv($column * $rows, $columns);
            for ($row = max(0, $middle - $band), $end = min($rows - 1, $middle + $band); $row <= $end; ++$row) {
                $like = $likeness($old[$row], $j);
                if ($like >= $least) {
                    $candidates[] = [$old[$row], $j];
                    $weights[] = $like;
                }
            }
        }

        return Alignment::heaviestRising($candidates, $weights);
    }
}
