<?php

declare(strict_types=1);

namespace Ypomna\App\People;

use Symfony\Component\Security\Core\User\EquatableInterface;
use Symfony\Component\Security\Core\User\UserInterface;
use Ypomna\App\Shared\Role;
use Ypomna\App\Shared\SignedIn;
use Ypomna\App\Shared\Viewer;

/**
 * Somebody who has signed in, as a session knows them. At each request it is read anew, so that another role holds at once and an ended
 * session is no session.
 */
final readonly class Account implements UserInterface, EquatableInterface, SignedIn
{
    use NamedUser;

    /** @param string $session by which its row is found */
    public function __construct(
        public int $person,
        public string $name,
        public Role $role,
        public string $session,
        private ?string $zone = null,
        private ?string $language = null,
    ) {
    }

    public function viewer(): Viewer
    {
        return Viewer::person($this->name, $this->role, hash('sha256', $this->session));
    }

    /** The framework wants one; what somebody may is decided by the gate. */
    public function getRoles(): array
    {
        return ['ROLE_PERSON'];
    }

    public function isEqualTo(UserInterface $user): bool
    {
        return $user instanceof self && $user->person === $this->person && $user->session === $this->session;
    }
}
