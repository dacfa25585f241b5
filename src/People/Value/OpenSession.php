<?php

declare(strict_types=1);

namespace Ypomna\App\People\Value;

/** One place where somebody is signed in. */
final readonly class OpenSession
{
    /** @param string $hash names it, and opens nothing */
    public function __construct(
        public string $hash,
        public \DateTimeImmutable $begunAt,
        public \DateTimeImmutable $seenAt,
        public string $network,
        public string $agent,
        public bool $isThisOne,
    ) {
    }
}
