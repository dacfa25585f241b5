<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue\Value;

use Ypomna\App\Shared\Row;

/** A WARC file of the store. */
final readonly class HeldFile
{
    /** @param string $sha256 hex */
    public function __construct(public int $id, public string $path, public string $sha256, public int $bytes, public int $records)
    {
    }

    /** @param array<string, mixed> $values */
    public static function fromRow(array $values): self
    {
        $row = new Row($values);

        return new self($row->int('id'), $row->text('path'), $row->text('digest'), $row->int('bytes'), $row->int('records'));
    }
}
