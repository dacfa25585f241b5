<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue\Value;

use Ypomna\App\Shared\Row;

/** The newest capture of an address that has the page itself. */
final readonly class NewestCapture
{
    public function __construct(public int $id, public string $url, public string $code)
    {
    }

    /** @param array<string, mixed> $values */
    public static function fromRow(array $values): self
    {
        $row = new Row($values);

        return new self($row->int('id'), $row->text('url'), $row->text('code'));
    }
}
