<?php

declare(strict_types=1);

namespace Ypomna\Core\Desk;

/** Something to be done, as a note says it. */
final readonly class Todo
{
    public function __construct(
        /** From 1. */
        public int $line,
        public string $text,
        public bool $done,
    ) {
    }
}
