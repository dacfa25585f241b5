<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Value;

/** What the fields of one item hold. */
final readonly class FieldRow
{
    /** @param array<array-key, mixed> $fields values by name */
    public function __construct(public string $code, public string $title, public array $fields)
    {
    }
}
