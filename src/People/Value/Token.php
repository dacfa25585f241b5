<?php

declare(strict_types=1);

namespace Ypomna\App\People\Value;

/** A program's way in, in the name of a person. The token itself is known to whoever it was given to, and to nobody else. */
final readonly class Token
{
    /**
     * @param string $id names it, and opens nothing
     * @param list<Scope> $scopes
     * @param \DateTimeImmutable|null $expires null for never
     */
    public function __construct(public string $id, public int $person, public array $scopes, public ?\DateTimeImmutable $expires)
    {
    }
}
