<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue\Value;

/** A capture as a layer of the column. */
final readonly class Layer
{
    public function __construct(
        public string $code,
        public \DateTimeImmutable $at,
        public int $status,
        /** 0 to 1, against the capture before; null where there is none. */
        public ?float $changed,
        public bool $leadsOn,
    ) {
    }
}
