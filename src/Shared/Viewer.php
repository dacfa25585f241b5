<?php

declare(strict_types=1);

namespace Ypomna\App\Shared;

/**
 * For whom something is read. Whatever gives out captures, addresses or records asks for one, so that nobody can forget to say; so
 * far everybody sees everything.
 */
final readonly class Viewer
{
    /** @param string|null $name of the person; null for the system itself */
    private function __construct(public ?string $name)
    {
    }

    /** The system: workers, and commands that act for no person. */
    public static function system(): self
    {
        return new self(null);
    }

    public static function person(string $name): self
    {
        return new self($name);
    }

    public function isSystem(): bool
    {
        return null === $this->name;
    }
}
