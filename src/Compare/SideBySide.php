<?php

declare(strict_types=1);

namespace Ypomna\App\Compare;

use Ypomna\App\Compare\Value\ComparisonRow;
use Ypomna\Core\Compare\ChangeKind;
use Ypomna\Core\Compare\PassageChange;
use Ypomna\Core\Page\Passage;

/** Two texts in rows, what belongs together in the same row; what stayed is folded where nothing near it changed. */
final class SideBySide
{
    /** So many passages that stayed are shown around a change. */
    private const CONTEXT = 2;

    /**
     * @param list<Passage> $old
     * @param list<Passage> $new
     * @param list<PassageChange> $changes
     *
     * @return list<ComparisonRow>
     */
    public static function rows(array $old, array $new, array $changes): array
    {
        $goneFrom = $comeTo = [];
        foreach ($changes as $n => $change) {
            if (null !== $change->oldAt) {
                $goneFrom[$change->oldAt] = [$change, $n];
            }
            if (null !== $change->newAt) {
                $comeTo[$change->newAt] = [$change, $n];
            }
        }
        $rows = [];
        $i = $j = 0;
        while ($i < \count($old) || $j < \count($new)) {
            [$left, $leftNumber] = $goneFrom[$i] ?? [null, 0];
            [$right, $rightNumber] = $comeTo[$j] ?? [null, 0];
            if (null === $left && null === $right && isset($old[$i], $new[$j])) {
                $rows[] = new ComparisonRow($old[$i++], $new[$j++], null, null);
            } elseif (null !== $left && $left === $right && !$left->moved && ChangeKind::Changed === $left->kind) {
                $rows[] = new ComparisonRow($old[$i++], $new[$j++], $left, $leftNumber);
            } elseif (null !== $left && isset($old[$i])) {
                $rows[] = new ComparisonRow($old[$i++], null, $left, $leftNumber);
            } elseif (null !== $right && isset($new[$j])) {
                $rows[] = new ComparisonRow(null, $new[$j++], $right, $rightNumber);
            } else {
                // Passages that stayed always come in pairs; a list that says otherwise is shown to its end all the same.
                $rows[] = new ComparisonRow($old[$i] ?? null, $new[$j] ?? null, null, null);
                ++$i;
                ++$j;
            }
        }

        return self::folded($rows);
    }

    /**
     * @param list<ComparisonRow> $rows
     *
     * @return list<ComparisonRow>
     */
    private static function folded(array $rows): array
    {
        $near = [];
        foreach ($rows as $n => $row) {
            if (null !== $row->change) {
                for ($k = $n - self::CONTEXT; $k <= $n + self::CONTEXT; ++$k) {
                    $near[$k] = true;
                }
            }
        }
        $out = $run = [];
        foreach ($rows as $n => $row) {
            if (isset($near[$n])) {
                array_push($out, ...self::fold($run), ...[$row]);
                $run = [];
            } else {
                $run[] = $row;
            }
        }

        return [...$out, ...self::fold($run)];
    }

    /**
     * @param list<ComparisonRow> $run
     *
     * @return list<ComparisonRow>
     */
    private static function fold(array $run): array
    {
        return \count($run) < 3 ? $run : [new ComparisonRow(null, null, null, null, $run)];
    }
}
