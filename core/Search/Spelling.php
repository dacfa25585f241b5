<?php

declare(strict_types=1);

namespace Ypomna\Core\Search;

/** How far two words are apart: letters that were changed, left out, added, or that changed places (Damerau 1964; optimal alignment). */
final class Spelling
{
    /** How many mistakes a word of that length may have. */
    public static function allowed(string $word): int
    {
        $length = mb_strlen($word);

        return $length < 3 ? 0 : ($length < 7 ? 1 : 2);
    }

    /** @return int|null null if it is more than `$most` */
    public static function distance(string $one, string $other, int $most): ?int
    {
        $a = mb_str_split($one);
        $b = mb_str_split($other);
        if (abs(\count($a) - \count($b)) > $most) {
            return null;
        }
        $before = [];
        $last = array_keys([...$b, '']);
        foreach ($a as $i => $letter) {
            $row = [$i + 1];
            foreach ($b as $j => $against) {
                $row[] = $best = min(
                    $last[$j + 1] + 1, $row[$j] + 1, $last[$j] + ($letter === $against ? 0 : 1),
                );
                if ($i > 0 && $j > 0 && $letter === $b[$j - 1] && $a[$i - 1] === $against) {
                    $row[$j + 1] = min($best, $before[$j - 1] + 1);
                }
            }
            if (min($row) > $most) {
                return null;
            }
            [$before, $last] = [$last, $row];
        }
        $distance = (int) $last[\count($b)];

        return $distance <= $most ? $distance : null;
    }
}
