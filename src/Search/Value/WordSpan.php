<?php

declare(strict_types=1);

namespace Ypomna\App\Search\Value;

/** A stretch of captures, one behind the other, in which words stand. */
final readonly class WordSpan
{
    /**
     * @param string $firstCode of the capture with which it begins
     * @param string $lastCode of the one with which it ends
     * @param string|null $behind code of the one right behind it; null if there is none
     */
    public function __construct(
        public \DateTimeImmutable $from,
        public \DateTimeImmutable $to,
        public int $captures,
        public string $firstCode,
        public string $lastCode,
        public ?string $behind = null,
    ) {
    }
}
