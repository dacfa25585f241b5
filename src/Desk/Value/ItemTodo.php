<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Value;

/** Something to be done, and the item whose note says so. */
final readonly class ItemTodo
{
    /** @param int $line from 1 */
    public function __construct(
        public int $itemId,
        public string $item,
        public string $title,
        public int $line,
        public string $text,
        public bool $done,
    ) {
    }
}
