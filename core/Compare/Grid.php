<?php

declare(strict_types=1);

namespace Ypomna\Core\Compare;

use Ypomna\Core\Page\Passage;
use Ypomna\Core\Page\PassageKind;

/**
 * A table of a page as rows and columns of text.
 *
 * @internal
 */
final class Grid
{
    /** @var array<int, array<int, string>> by row and column */
    public array $texts = [];
    /** @var array<int, array<int, int>> numbers of the passages */
    public array $numbers = [];
    /** @var array<int, int> header cells of each row */
    private array $headers = [];
    /** @var array<array-key, int>|null */
    private ?array $bag = null;

    /**
     * @param list<Passage> $passages
     *
     * @return array<int, self> by the number of the table
     */
    public static function all(array $passages): array
    {
        $grids = [];
        foreach ($passages as $number => $passage) {
            if (PassageKind::Cell === $passage->kind && null !== $passage->cell) {
                $cell = $passage->cell;
                $grid = $grids[$cell->table] ??= new self();
                $grid->texts[$cell->row][$cell->column] = $passage->key;
                $grid->numbers[$cell->row][$cell->column] = $number;
                if ($cell->isHeader) {
                    $grid->headers[$cell->row] = 1 + ($grid->headers[$cell->row] ?? 0);
                }
            }
        }

        return $grids;
    }

    public function cells(): int
    {
        return array_sum(array_map(\count(...), $this->texts));
    }

    public function columns(): int
    {
        return \count($this->heads());
    }

    /** Whether the first row names the columns. */
    public function hasHeads(): bool
    {
        $row = array_key_first($this->texts) ?? 0;
        $first = $this->texts[$row] ?? [];
        if (\count($first) < 2) {
            return false;
        }

        return ($this->headers[$row] ?? 0) >= \count($first) - 1
            || (\count($first) === \count(array_unique($first)) && [] === preg_grep('/\d/', $first));
    }

    /**
     * @return array<int, string> what stands in the first row of each column, else the number of the column
     */
    public function heads(): array
    {
        $row = array_key_first($this->texts) ?? 0;
        $hasHeads = $this->hasHeads();
        $heads = [];
        foreach ($this->texts as $cells) {
            foreach (array_keys($cells) as $column) {
                $heads[$column] ??= $hasHeads && isset($this->texts[$row][$column]) ? $this->texts[$row][$column] : "\x00{$column}";
            }
        }
        ksort($heads);

        return $heads;
    }

    /** Share of the cells that both have, 0 to 1, of the smaller table. */
    public function likeness(self $other): float
    {
        $bag = $this->bag();
        $others = $other->bag();
        $common = 0;
        foreach ($bag as $text => $times) {
            $common += min($times, $others[$text] ?? 0);
        }

        return $common / max(1, min(array_sum($bag), array_sum($others)));
    }

    /**
     * @param list<int> $columns
     */
    public function row(int $row, array $columns): string
    {
        $cells = [];
        foreach ($columns as $column) {
            $cells[] = $this->texts[$row][$column] ?? '';
        }

        return implode("\x1F", $cells);
    }

    /**
     * @param list<array{int, int}> $columns
     */
    public function rowLikeness(int $row, self $other, int $otherRow, array $columns): float
    {
        $same = $all = 0.0;
        foreach ($columns as $n => [$c, $d]) {
            $before = $this->texts[$row][$c] ?? '';
            $after = $other->texts[$otherRow][$d] ?? '';
            if ('' === $before && '' === $after) {
                continue;
            }
            // What a row begins with is most often its name.
            $weight = 0 === $n ? max(2.0, 0.8 * \count($columns)) : 1.0;
            $all += $weight;
            $same += $before === $after ? $weight : 0.0;
        }

        return 0.0 === $all ? 0.0 : $same / $all;
    }

    public function columnLikeness(int $column, self $other, int $otherColumn): float
    {
        $before = $this->column($column);
        $after = $other->column($otherColumn);
        $common = 0;
        foreach ($before as $text => $times) {
            $common += min($times, $after[$text] ?? 0);
        }

        return 2 * $common / max(1, array_sum($before) + array_sum($after));
    }

    /**
     * @return array<array-key, int>
     */
    private function column(int $column): array
    {
        return array_count_values(array_column($this->texts, $column));
    }

    /**
     * @return array<array-key, int>
     */
    private function bag(): array
    {
        return $this->bag ??= array_count_values([] === $this->texts ? [] : array_merge(
            ...array_map(array_values(...), array_values($this->texts)),
        ));
    }
}
