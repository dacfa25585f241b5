<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue\Value;

/** A capture as a layer of the column, or several that lie too near to each other to be drawn one by one. */
final readonly class Layer
{
    public function __construct(
        /** Of the capture; of several, of the last. */
        public string $code,
        public \DateTimeImmutable $at,
        public int $status,
        /** 0 to 1, against the capture before; of several the most; null where there is none. */
        public ?float $changed,
        public bool $leadsOn,
        public int $count = 1,
        /** Of several, the moment of the last. */
        public ?\DateTimeImmutable $until = null,
        /** Of several, how many had the page no longer. */
        public int $gone = 0,
    ) {
    }
}
