<?php

declare(strict_types=1);

namespace Ypomna\App\People;

use Symfony\Component\Security\Core\User\UserInterface;
use Ypomna\App\Shared\Role;
use Ypomna\App\Shared\SignedIn;
use Ypomna\App\Shared\Viewer;

/** Somebody for whom a command acts. */
final readonly class CommandAccount implements UserInterface, SignedIn
{
    use NamedUser;

    public function __construct(public string $name, public Role $role, private ?string $zone, private ?string $language = null)
    {
    }

    public function viewer(): Viewer
    {
        return Viewer::person($this->name, $this->role);
    }

    public function getRoles(): array
    {
        return ['ROLE_COMMAND'];
    }
}
