<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue\Value;

/** A year, month, day or hour in which there are captures. */
final readonly class Span
{
    public function __construct(
        public string $label,
        public \DateTimeImmutable $from,
        public \DateTimeImmutable $to,
        public int $captures,
        public int $changes,
    ) {
    }
}
