<?php

declare(strict_types=1);

namespace Ypomna\App\People\Value;

/** A token as its person sees it. */
final readonly class ShownToken
{
    /**
     * @param list<Scope> $scopes
     * @param \DateTimeImmutable|null $expires null for never
     * @param \DateTimeImmutable|null $usedAt by the day; null if it was not used so far
     */
    public function __construct(
        public string $id,
        public string $name,
        public array $scopes,
        public \DateTimeImmutable $madeAt,
        public ?\DateTimeImmutable $expires,
        public ?\DateTimeImmutable $usedAt,
    ) {
    }
}
