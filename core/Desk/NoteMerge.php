<?php

declare(strict_types=1);

namespace Ypomna\Core\Desk;

use Ypomna\Core\Compare\Alignment;

/**
 * Puts together what two people made of one note at the same time, line by line: what only one of them changed stands as that one has
 * it, what both added stands there twice, what both changed otherwise is for a person to decide. (Three-way merge, as in Khanna, Kunal,
 * Pierce: A Formal Investigation of Diff3, 2007.).
 */
final class NoteMerge
{
    /**
     * @param string $base what both began with
     * @param string $mine what the one made of it
     * @param string $theirs what the other made of it, and is held by now
     */
    public static function of(string $base, string $mine, string $theirs): MergedNote
    {
        if ($mine === $theirs || $base === $theirs) {
            return new MergedNote([[$mine]]);
        }
        if ($base === $mine) {
            return new MergedNote([[$theirs]]);
        }
        [$old, $a, $b] = ['' === $base ? [] : explode("\n", $base), explode("\n", $mine), explode("\n", $theirs)];
        $inMine = array_column(Alignment::of($old, $a), 1, 0);
        $inTheirs = array_column(Alignment::of($old, $b), 1, 0);
        $pieces = $lines = [];
        [$i, $j, $k] = [0, 0, 0];
        // One behind the last line is the end of all three.
        $stable = [...array_keys(array_intersect_key($inMine, $inTheirs)), \count($old)];
        foreach ($stable as $line) {
            [$toMine, $toTheirs] = [$inMine[$line] ?? \count($a), $inTheirs[$line] ?? \count($b)];
            $was = \array_slice($old, $i, $line - $i);
            $one = \array_slice($a, $j, $toMine - $j);
            $other = \array_slice($b, $k, $toTheirs - $k);
            if ($one === $other || $other === $was) {
                array_push($lines, ...$one);
            } elseif ($one === $was) {
                array_push($lines, ...$other);
            } elseif ([] === $was) {
                array_push($lines, ...$other, ...$one);
            } else {
                $pieces = [...self::piece($pieces, $lines), [implode("\n", $one), implode("\n", $other)]];
                $lines = [];
            }
            if ($line < \count($old)) {
                $lines[] = $old[$line];
            }
            [$i, $j, $k] = [$line + 1, $toMine + 1, $toTheirs + 1];
        }

        return new MergedNote(self::piece($pieces, $lines));
    }

    /**
     * @param list<array{0: string, 1?: string}> $pieces
     * @param list<string> $lines
     *
     * @return list<array{0: string, 1?: string}>
     */
    private static function piece(array $pieces, array $lines): array
    {
        return [] === $lines ? $pieces : [...$pieces, [implode("\n", $lines)]];
    }
}
