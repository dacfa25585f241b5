<?php

declare(strict_types=1);

namespace Ypomna\Core\Page;

/** Where a cell stands; all numbers from 0. */
final readonly class CellPlace
{
    public function __construct(
        /** Tables of a page are numbered in the order in which they begin. */
        public int $table,
        public int $row,
        /** The first column it covers, spans of other cells counted (HTML Living Standard, section 4.9.12). */
        public int $column,
        public bool $isHeader,
    ) {
    }
}
