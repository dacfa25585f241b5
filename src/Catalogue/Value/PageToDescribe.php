<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue\Value;

use Ypomna\App\Shared\Row;

/** A page whose title may not be known yet, nor how much it differs from its neighbours. */
final readonly class PageToDescribe
{
    /** @param bool $isNewest of an address with as many captures as teach what is noise there */
    public function __construct(
        public int $id,
        public int $offset,
        public int $addressId,
        public bool $needsTitle,
        public bool $needsMeasuring,
        public bool $isNewest,
    ) {
    }

    /** @param array<string, mixed> $values */
    public static function fromRow(array $values): self
    {
        $row = new Row($values);
        $is = static fn (string $name): bool => 1 === $row->int($name);

        return new self(
            $row->int('id'), $row->int('response_offset'), $row->int('address_id'), $is('untitled'), $is('unmeasured'), $is('newest'),
        );
    }
}
