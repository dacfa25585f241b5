<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Value;

use Ypomna\Core\Desk\FieldType;
use Ypomna\Core\Desk\QuantityGroup;

/** What the items of a dossier hold in one field. */
final readonly class CollectedField
{
    /**
     * @param list<array{value: string, items: non-empty-list<FieldRow>}> $values the most used first; numbers by size
     * @param list<QuantityGroup> $numbers
     * @param list<array{name: string, latitude: float, longitude: float, item: FieldRow}> $places those with coordinates
     * @param int $more values that are not listed
     */
    public function __construct(
        public string $name,
        public FieldType $type,
        public array $values,
        public array $numbers,
        public array $places,
        public int $more,
    ) {
    }
}
