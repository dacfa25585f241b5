<?php

declare(strict_types=1);

namespace Ypomna\Core\Compare;

use Ypomna\Core\Page\Passage;

/**
 * Aligns the tables of two pages: tables by what they hold, their columns by what heads them, their rows by what they begin with.
 * So one cell that changed is one change, and a row that was put in moves nothing else.
 */
final class TableComparison
{
    private const FEWEST_CELLS = 3;
    private const MOST_TABLES = 60;
    /** Share of cells in common from which on two tables are the same one. */
    private const SAME_TABLE = 0.2;
    private const SAME_ROW = 0.4;
    private const SAME_COLUMN = 0.3;

    /** @var list<array{int, int}> cells of both that belong together, by their numbers among the passages */
    public array $pairs = [];
    /** @var array<int, true> numbers of old cells whose row or column stands elsewhere now */
    public array $moved = [];
    /** @var array<int, int> of each old table that has a counterpart, the new one */
    public array $tables = [];
    /** @var list<array<int, Grid>> */
    private readonly array $grids;

    /**
     * @param list<Passage> $old
     * @param list<Passage> $new
     */
    public function __construct(array $old, array $new)
    {
        $this->grids = [Grid::all($old), Grid::all($new)];
        $this->pairTables();
        foreach ($this->tables as $before => $after) {
            $this->align($this->grids[0][$before], $this->grids[1][$after]);
        }
    }

    private function pairTables(): void
    {
        $scores = [];
        foreach ($this->candidates(0) as $i => $before) {
            foreach ($this->candidates(1) as $j => $after) {
                $score = $before->likeness($after);
                if ($score >= self::SAME_TABLE) {
                    // Of tables that are alike, those in the same order belong together.
                    $scores[] = [$score - 0.001 * abs($i - $j), $i, $j];
                }
            }
        }
        rsort($scores);
        $taken = [];
        foreach ($scores as [, $i, $j]) {
            if (!isset($this->tables[$i]) && !isset($taken[$j])) {
                $this->tables[$i] = $j;
                $taken[$j] = true;
            }
        }
    }

    /**
     * @return array<int, Grid>
     */
    private function candidates(int $side): array
    {
        return \array_slice(
            array_filter($this->grids[$side], static fn (Grid $grid): bool => $grid->cells() >= self::FEWEST_CELLS),
            0,
            self::MOST_TABLES,
            true,
        );
    }

    private function align(Grid $old, Grid $new): void
    {
        [$columns, $movedColumns] = $this->columns($old, $new);
        [$rows, $movedRows] = $this->rows($old, $new, $columns);
        foreach ($rows as [$r, $s]) {
            foreach ($columns as [$c, $d]) {
                $before = $old->numbers[$r][$c] ?? null;
                $after = $new->numbers[$s][$d] ?? null;
                if (null !== $before && null !== $after) {
                    $this->pairs[] = [$before, $after];
                    if (isset($movedRows[$r]) || isset($movedColumns[$c])) {
                        $this->moved[$before] = true;
                    }
                }
            }
        }
    }

    /**
     * @return array{list<array{int, int}>, array<int, true>} columns that belong together, and which of the old ones moved
     */
    private function columns(Grid $old, Grid $new): array
    {
        $heads = [$old->heads(), $new->heads()];
        if ($old->columns() === $new->columns() && array_values($heads[0]) === array_values($heads[1])) {
            return [self::inOrder(array_keys($heads[0]), array_keys($heads[1])), []];
        }
        $keys = [array_keys($heads[0]), array_keys($heads[1])];
        $names = [array_values($heads[0]), array_values($heads[1])];
        if (!$old->hasHeads() || !$new->hasHeads()) {
            // Numbers say nothing where a column may have been put in: what stands in the columns tells.
            $names = [
                array_map(static fn (int $c): string => "old {$c}", $keys[0]),
                array_map(static fn (int $c): string => "new {$c}", $keys[1]),
            ];
        }
        $pairs = $this->paired(
            $names[0],
            $names[1],
            static fn (int $i, int $j): float => $old->columnLikeness($keys[0][$i], $new, $keys[1][$j]),
            self::SAME_COLUMN,
            $old->hasHeads() && $new->hasHeads(),
        );
        $columns = array_map(static fn (array $pair): array => [$keys[0][$pair[0]], $keys[1][$pair[1]]], $pairs[0]);

        return [$columns, array_fill_keys(array_map(static fn (int $i): int => $keys[0][$i], array_keys($pairs[1])), true)];
    }

    /**
     * @param list<array{int, int}> $columns
     *
     * @return array{list<array{int, int}>, array<int, true>}
     */
    private function rows(Grid $old, Grid $new, array $columns): array
    {
        $keys = [array_keys($old->texts), array_keys($new->texts)];
        $whole = [[], []];
        foreach ($keys[0] as $row) {
            $whole[0][] = $old->row($row, array_column($columns, 0));
        }
        foreach ($keys[1] as $row) {
            $whole[1][] = $new->row($row, array_column($columns, 1));
        }
        $likeness = static fn (int $i, int $j): float => $old->rowLikeness($keys[0][$i], $new, $keys[1][$j], $columns);
        $pairs = $this->paired($whole[0], $whole[1], $likeness, self::SAME_ROW, true);
        $rows = array_map(static fn (array $pair): array => [$keys[0][$pair[0]], $keys[1][$pair[1]]], $pairs[0]);

        return [$rows, array_fill_keys(array_map(static fn (int $i): int => $keys[0][$i], array_keys($pairs[1])), true)];
    }

    /**
     * Pairs rows or columns: those that are equal, in order; between them those that are alike; then those that are equal elsewhere.
     *
     * @param list<string> $old
     * @param list<string> $new
     * @param callable(int, int): float $likeness
     * @param bool $mayMove whether what is equal in another place is the same
     *
     * @return array{list<array{int, int}>, array<int, true>}
     */
    private function paired(array $old, array $new, callable $likeness, float $least, bool $mayMove): array
    {
        $weights = [];
        foreach ($old as $text) {
            $weights[$text] = 1 + \strlen($text);
        }
        $same = Alignment::of($old, $new, $weights);
        $pairs = $same;
        [$a, $b] = [0, 0];
        foreach ([...$same, [\count($old), \count($new)]] as [$i, $j]) {
            array_push($pairs, ...InOrder::pairs(range($a, $i, 1), range($b, $j, 1), $likeness, $least));
            [$a, $b] = [$i + 1, $j + 1];
        }
        $moved = [];
        if ($mayMove) {
            $freeOld = array_diff(array_keys($old), array_column($pairs, 0));
            $freeNew = array_diff(array_keys($new), array_column($pairs, 1));
            foreach ($freeOld as $i) {
                foreach ($freeNew as $place => $j) {
                    if ($old[$i] === $new[$j] || (\count($freeOld) * \count($freeNew) <= 10_000 && $likeness($i, $j) >= 0.7)) {
                        $pairs[] = [$i, $j];
                        $moved[$i] = true;
                        unset($freeNew[$place]);
                        break;
                    }
                }
            }
        }
        sort($pairs);

        return [$pairs, $moved];
    }

    /**
     * @param list<int> $old
     * @param list<int> $new
     *
     * @return list<array{int, int}>
     */
    private static function inOrder(array $old, array $new): array
    {
        return array_map(static fn (int $i, int $j): array => [$i, $j], $old, $new);
    }
}
