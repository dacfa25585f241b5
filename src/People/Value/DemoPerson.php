<?php

declare(strict_types=1);

namespace Ypomna\App\People\Value;

use Ypomna\App\Shared\Role;

/** Somebody of the demo, with a password that everybody may know. */
final readonly class DemoPerson
{
    public function __construct(public string $name, public Role $role, public string $password)
    {
    }
}
