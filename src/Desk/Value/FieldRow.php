<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Value;

/** What the fields of one item hold, and what it is called. */
final readonly class FieldRow
{
    /**
     * @param array<array-key, mixed> $fields values by name
     * @param string|null $capture code of the one that it is about, seen or not
     */
    public function __construct(
        public string $code,
        public string $title,
        public string $summary,
        public ?string $capture,
        public array $fields,
    ) {
    }
}
