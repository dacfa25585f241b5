<?php

declare(strict_types=1);

namespace Ypomna\Core\Page;

use Ypomna\Core\Html\Tree;

/**
 * Follows the tables that are being read and says where a cell stands in them (HTML Living Standard, section 4.9.12).
 *
 * @internal
 */
final class TableGrid
{
    private const WIDEST_SPAN = 1_000;
    private const TALLEST_SPAN = 2_000;

    private int $tables = 0;
    /**
     * @var list<array{table: int, row: int, column: int, width: int, header: bool, layout: bool, taken: array<int, int>}> those that are
     *     open; of columns that cells from above take, down to which row
     */
    private array $open = [];

    public function enter(string $name, Tree $tree, int $node): void
    {
        if ('table' === $name) {
            $role = strtolower($tree->attribute($node, 'role') ?? '');
            $this->open[] = [
                'table' => $this->tables++, 'row' => -1, 'column' => 0, 'width' => 0, 'header' => false,
                'layout' => 'presentation' === $role || 'none' === $role, 'taken' => [],
            ];

            return;
        }
        $last = \count($this->open) - 1;
        if ($last < 0) {
            return;
        }
        if ('tr' === $name) {
            $table = $this->open[$last];
            $this->open = array_values(array_replace(
                $this->open, [$last => ['row' => $table['row'] + 1, 'column' => 0, 'width' => 0] + $table],
            ));
        } elseif ('td' === $name || 'th' === $name) {
            $this->cell(
                $last,
                $name,
                self::span($tree->attribute($node, 'colspan'), self::WIDEST_SPAN),
                self::span($tree->attribute($node, 'rowspan'), self::TALLEST_SPAN),
            );
        }
    }

    private function cell(int $at, string $name, int $wide, int $tall): void
    {
        $table = $this->open[$at];
        $row = $table['row'];
        $column = $table['column'] + $table['width'];
        while (($table['taken'][$column] ?? -1) >= $row) {
            ++$column;
        }
        if ($tall > 1) {
            for ($i = $column; $i < $column + $wide; ++$i) {
                $table['taken'][$i] = $row + $tall - 1;
            }
        }
        $table['column'] = $column;
        $table['width'] = $wide;
        $table['header'] = 'th' === $name;
        $this->open = array_values(array_replace($this->open, [$at => $table]));
    }

    public function leave(string $name): void
    {
        if ('table' === $name) {
            array_pop($this->open);
        }
    }

    public function isLayout(): bool
    {
        return [] !== $this->open && $this->open[\count($this->open) - 1]['layout'];
    }

    public function place(): ?CellPlace
    {
        $table = end($this->open);

        return false === $table || $table['layout']
            ? null
            : new CellPlace($table['table'], max(0, $table['row']), $table['column'], $table['header']);
    }

    private static function span(?string $value, int $most): int
    {
        return null === $value ? 1 : max(1, min($most, (int) $value));
    }
}
