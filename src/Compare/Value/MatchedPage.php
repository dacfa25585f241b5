<?php

declare(strict_types=1);

namespace Ypomna\App\Compare\Value;

/** A page of one host and the page of another that says most of the same. */
final readonly class MatchedPage
{
    public function __construct(
        public string $url,
        public string $code,
        public ?string $otherUrl,
        public ?string $otherCode,
        public float $likeness,
    ) {
    }
}
