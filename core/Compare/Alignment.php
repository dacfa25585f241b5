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
     *
     * @return list<array{int, int}> places of equal elements, rising on both sides
     */
    public static function of(array $old, array $new): array
    {
        $pairs = [];
        $work = [[0, \count($old), 0, \count($new)]];
        while (null !== ($part = array_pop($work))) {
            [$a, $aEnd, $b, $bEnd] = $part;
            while ($a < $aEnd && $b < $bEnd && $old[$a] === $new[$b]) {
                $pairs[] = [$a++, $b++];
            }
            while ($a < $aEnd && $b < $bEnd && $old[$aEnd - 1] === $new[$bEnd - 1]) {
                $pairs[] = [--$aEnd, --$bEnd];
            }
            if ($a === $aEnd || $b === $bEnd) {
                continue;
            }
            if (($aEnd - $a) * ($bEnd - $b) <= self::EXACT_CELLS) {
                array_push($pairs, ...self::exact($old, $new, $a, $aEnd, $b, $bEnd));
                continue;
            }
            $anchors = self::anchors($old, $new, $a, $aEnd, $b, $bEnd);
            foreach ([...$anchors, [$aEnd, $bEnd]] as [$x, $y]) {
                if ([] !== $anchors) {
                    $work[] = [$a, $x, $b, $y];
                }
                if ($x < $aEnd && $y < $bEnd) {
                    $pairs[] = [$x, $y];
                }
                [$a, $b] = [$x + 1, $y + 1];
            }
        }
        sort($pairs);

        return $pairs;
    }

    /**
     * @param list<string> $old
     * @param list<string> $new
     *
     * @return list<array{int, int}>
     */
    private static function anchors(array $old, array $new, int $a, int $aEnd, int $b, int $bEnd): array
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

        return self::longestRising($candidates);
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
     * @param list<string> $old
     * @param list<string> $new
     *
     * @return list<array{int, int}>
     */
    private static function exact(array $old, array $new, int $a, int $aEnd, int $b, int $bEnd): array
    {
        $width = $bEnd - $b + 1;
        $table = array_fill(0, ($aEnd - $a + 1) * $width, 0);
        for ($i = $aEnd; $i >= $a; --$i) {
            for ($j = $bEnd; $j >= $b; --$j) {
                $cell = ($i - $a) * $width + $j - $b;
                $table[$cell] = match (true) {
                    $i === $aEnd || $j === $bEnd => 0,
                    $old[$i] === $new[$j] => 1 + $table[$cell + $width + 1],
                    default => max($table[$cell + $width], $table[$cell + 1]),
                };
            }
        }
        $pairs = [];
        for ($i = $a, $j = $b; $i < $aEnd && $j < $bEnd;) {
            $cell = ($i - $a) * $width + $j - $b;
            if ($old[$i] === $new[$j]) {
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
