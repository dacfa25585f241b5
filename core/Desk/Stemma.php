<?php

declare(strict_types=1);

namespace Ypomna\Core\Desk;

/**
 * Where things stand in a picture of what hangs together: the one in the middle, on its right what it leads to, on its left what leads
 * to it, and beyond each of those what hangs on it. Two steps far. Nothing stands upon anything else, and no line by which something hangs
 * on what is nearer crosses another such line.
 */
final class Stemma
{
    /**
     * @param list<array{string, string}> $ties from one to another; what comes first stands higher
     *
     * @return array<string, array{int, float}> column (-2 to 2) and row, from 0, of each that is at most two steps from the middle
     */
    public static function around(string $middle, array $ties): array
    {
        $near = [];
        foreach ($ties as [$from, $to]) {
            if ($from === $middle && $to !== $middle) {
                $near[$to] = 1;
            } elseif ($to === $middle && $from !== $middle) {
                $near[$from] ??= -1;
            }
        }
        $far = $known = [];
        foreach ($ties as [$from, $to]) {
            foreach ([[$from, $to], [$to, $from]] as [$one, $other]) {
                if (isset($near[$one]) && !isset($near[$other]) && !isset($known[$other]) && $other !== $middle) {
                    $far[$one][] = $other;
                    $known[$other] = true;
                }
            }
        }
        $rows = [-1 => 0, 1 => 0];
        $places = [];
        foreach ($near as $one => $side) {
            $hanging = $far[$one] ?? [];
            $height = max(1, \count($hanging));
            $places[$one] = [$side, $rows[$side] + ($height - 1) / 2];
            foreach ($hanging as $n => $other) {
                $places[$other] = [2 * $side, (float) ($rows[$side] + $n)];
            }
            $rows[$side] += $height;
        }
        // The shorter side stands beside the middle of the other one.
        $all = max($rows[-1], $rows[1], 1);
        foreach ($places as $one => [$column, $row]) {
            $places[$one] = [$column, $row + ($all - $rows[$column < 0 ? -1 : 1]) / 2];
        }

        return [$middle => [0, ($all - 1) / 2]] + $places;
    }
}
