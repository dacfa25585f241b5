<?php

declare(strict_types=1);

namespace Ypomna\Core\Desk;

/** Numbers of one kind, in one unit. */
final readonly class QuantityGroup
{
    /**
     * @param float $middle the median
     * @param bool $isConverted whether some were in another unit
     */
    public function __construct(
        public string $unit,
        public int $count,
        public float $sum,
        public float $least,
        public float $most,
        public float $middle,
        public bool $isConverted,
    ) {
    }
}
