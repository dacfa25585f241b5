<?php

declare(strict_types=1);

namespace Ypomna\App\Shared;

/** For whom something is read. Whatever gives out captures, addresses or records asks for one, so that nobody can forget to say. */
final readonly class Viewer
{
    /**
     * @param string|null $name of the person; null for the system itself, and for whoever has not signed in
     * @param Role|null $role of the person; null for the same two
     * @param string|null $session digest of the session in which they read, hex; null if they read in none
     */
    private function __construct(public ?string $name, public ?Role $role, private bool $isSystem, public ?string $session = null)
    {
    }

    /** The system: workers, and commands that act for no person. */
    public static function system(): self
    {
        return new self(null, null, true);
    }

    public static function person(string $name, Role $role, ?string $session = null): self
    {
        return new self($name, $role, false, $session);
    }

    /** Somebody of whom nothing is known. */
    public static function nobody(): self
    {
        return new self(null, null, false);
    }

    public function isSystem(): bool
    {
        return $this->isSystem;
    }
}
