<?php

declare(strict_types=1);

namespace Ypomna\Core\Compare;

/**
 * Finds a longest common subsequence of two sequences, or one nearly as long where that would take too much time:
 * elements that occur once on both sides are anchors (the longest run of them in order, by patience sorting), and
 * between the anchors the sequences are aligned exactly where they are short enough.
 */
final class Alignment
{
    /** Cells of the table for an exact alignment; 4 bytes each and more. */
    private const EXACT_CELLS = 400_000;

    /**
     * @param list<string> $old
     * @param list<string> $new
     * @param array<array-key, int>|null $weights of elements; of all runs in order the heaviest is looked for. Null: all weigh the same
     *
     * @return list<array{int, int}> places of equal elements, rising on both sides
     */
    public static function of(array $old, array $new, ?array $weights = null): array
    {
        $pairs = [];
        $work = [[0, \count($old), 0, \count($new)]];
        while (null !== ($part = array_pop($work))) {
            [$a, $aEnd, $b, $bEnd] = $part;
            while ($a < $aEnd && $b < $bEnd && $old[$a] === $new[$b]) {
                $pairs[$a++] = $b++;
            }
            while ($a < $aEnd && $b < $bEnd && $old[$aEnd - 1] === $new[$bEnd - 1]) {
                $pairs[--$aEnd] = --$bEnd;
            }
            if ($a === $aEnd || $b === $bEnd) {
                continue;
            }
            if (($aEnd - $a) * ($bEnd - $b) <= self::EXACT_CELLS) {
                foreach (self::exact($old, $new, $a, $aEnd, $b, $bEnd, $weights) as [$x, $y]) {
                    $pairs[$x] = $y;
                }
                continue;
            }
            $anchors = self::anchors($old, $new, $a, $aEnd, $b, $bEnd, $weights);
            foreach ([...$anchors, [$aEnd, $bEnd]] as [$x, $y]) {
                if ([] !== $anchors && $x > $a && $y > $b) {
                    $work[] = [$a, $x, $b, $y];
                }
                if ($x < $aEnd && $y < $bEnd) {
                    $pairs[$x] = $y;
                }
                [$a, $b] = [$x + 1, $y + 1];
            }
        }
        ksort($pairs);

        return array_map(static fn (int $i, int $j): array => [$i, $j], array_keys($pairs), array_values($pairs));
    }

    /**
     * @param list<string> $old
     * @param list<string> $new
     * @param array<array-key, int>|null $weights
     *
     * @return list<array{int, int}>
     */
    private static function anchors(array $old, array $new, int $a, int $aEnd, int $b, int $bEnd, ?array $weights): array
    {
        $where = [];
        for ($i = $a; $i < $aEnd; ++$i) {
            $where[$old[$i]] = isset($where[$old[$i]]) ? -1 : $i;
        }
        $times = array_count_values(\array_slice($new, $b, $bEnd - $b));
        $candidates = [];
        for ($j = $b; $j < $bEnd; ++$j) {
            $i = $where[$new[$j]] ?? -1;
            if ($i >= 0 && 1 === $times[$new[$j]]) {
                $candidates[] = [$i, $j];
            }
        }

        if (self::isRising($candidates)) {
            return $candidates;
        }

        return null === $weights
            ? self::longestRising($candidates)
            : self::heaviestRising($candidates, array_map(static fn (array $pair): int => $weights[$old[$pair[0]]] ?? 1, $candidates));
    }

    /** @param list<array{int, int}> $pairs rising in the second place */
    private static function isRising(array $pairs): bool
    {
        $last = -1;
        foreach ($pairs as [$i]) {
            if ($i <= $last) {
                return false;
            }
            $last = $i;
        }

        return true;
    }

    /**
     * @param list<array{int, int}> $pairs rising in the second place
     *
     * @return list<array{int, int}> as many of them as rise in both
     */
    private static function longestRising(array $pairs): array
    {
        $tops = [];
        $before = [];
        foreach ($pairs as $n => [$i]) {
            $low = 0;
            $high = \count($tops);
            while ($low < $high) {
                $middle = ($low + $high) >> 1;
                if ($pairs[$tops[$middle]][0] < $i) {
                    $low = $middle + 1;
                } else {
                    $high = $middle;
                }
            }
            $before[$n] = $low > 0 ? $tops[$low - 1] : -1;
            $tops[$low] = $n;
        }
        $run = [];
        for ($n = [] === $tops ? -1 : $tops[\count($tops) - 1]; $n >= 0; $n = $before[$n]) {
            $run[] = $pairs[$n];
        }

        return array_reverse($run);
    }

    /**
     * Of pairs that rise in the second place, those that rise in both and weigh most together (a tree of greatest sums over the
     * first places; Fenwick 1994).
     *
     * @param list<array{int, int}> $pairs rising in the second place; those that share a second place are alternatives
     * @param list<int|float> $weights above 0
     *
     * @return list<array{int, int}>
     */
    public static function heaviestRising(array $pairs, array $weights): array
    {
        $places = array_values(array_unique(array_column($pairs, 0)));
        sort($places);
        $rank = array_flip($places);
        $size = \count($places);
        // The best run that ends at or before a rank: its weight and its last pair.
        $best = array_fill(0, $size + 1, [0, -1]);
        $before = [];
        for ($n = 0, $count = \count($pairs); $n < $count;) {
            $found = [];
            $m = $n;
            // Alternatives must not build on each other.
            for (; $m < $count && $pairs[$m][1] === $pairs[$n][1]; ++$m) {
                $top = [0, -1];
                for ($r = $rank[$pairs[$m][0]]; $r > 0; $r -= $r & -$r) {
                    $top = $best[$r][0] > $top[0] ? $best[$r] : $top;
                }
                $before[$m] = $top[1];
                $found[$m] = $top[0] + $weights[$m];
            }
            foreach ($found as $k => $weight) {
                for ($r = $rank[$pairs[$k][0]] + 1; $r <= $size; $r += $r & -$r) {
                    if ($weight > $best[$r][0]) {
                        $best[$r] = [$weight, $k];
                    }
                }
            }
            $n = $m;
        }
        $top = [0, -1];
        for ($r = $size; $r > 0; $r -= $r & -$r) {
            $top = $best[$r][0] > $top[0] ? $best[$r] : $top;
        }
        $run = [];
        for ($n = $top[1]; $n >= 0; $n = $before[$n]) {
            $run[] = $pairs[$n];
        }

        return array_reverse($run);
    }

    /**
     * @param list<string> $old
     * @param list<string> $new
     * @param array<array-key, int>|null $weights
     *
     * @return list<array{int, int}>
     */
    private static function exact(array $old, array $new, int $a, int $aEnd, int $b, int $bEnd, ?array $weights): array
    {
        $width = $bEnd - $b + 1;
        $table = array_fill(0, ($aEnd - $a + 1) * $width, 0);
        for ($i = $aEnd - 1; $i >= $a; --$i) {
            $one = $old[$i];
            $weight = null === $weights ? 1 : ($weights[$one] ?? 1);
            $cell = ($i - $a) * $width + $bEnd - 1 - $b;
            for ($j = $bEnd - 1; $j >= $b; --$j, --$cell) {
                $down = $table[$cell + $width];
                $right = $table[$cell + 1];
                $most = $down > $right ? $down : $right;
                if ($one === $new[$j] && $weight + $table[$cell + $width + 1] > $most) {
                    $most = $weight + $table[$cell + $width + 1];
                }
                $table[$cell] = $most;
            }
        }
        $pairs = [];
        for ($i = $a, $j = $b; $i < $aEnd && $j < $bEnd;) {
            $cell = ($i - $a) * $width + $j - $b;
            if ($old[$i] === $new[$j]
                && $table[$cell + $width + 1] + (null === $weights ? 1 : ($weights[$old[$i]] ?? 1)) === $table[$cell]) {
                $pairs[] = [$i++, $j++];
            } elseif ($table[$cell + $width] >= $table[$cell + 1]) {
                ++$i;
            } else {
                ++$j;
            }
        }

        return $pairs;
    }
}
