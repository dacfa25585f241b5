<?php

declare(strict_types=1);

namespace Ypomna\App\People;

use Ypomna\App\Shared\Actor;

/**
 * What a person at a screen and a program that acts for one have in common; who has it has $name, $role, $zone and $language.
 */
trait NamedUser
{
    public function actor(): Actor
    {
        return new Actor($this->name);
    }

    public function zone(): ?string
    {
        return $this->zone;
    }

    public function language(): ?string
    {
        return $this->language;
    }

    public function getUserIdentifier(): string
    {
        \assert('' !== $this->name);

        return $this->name;
    }

    public function eraseCredentials(): void
    {
    }
}
