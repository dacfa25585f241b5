<?php

declare(strict_types=1);

namespace Ypomna\App\People;

use Symfony\Component\Security\Core\User\UserInterface;
use Ypomna\App\People\Value\Scope;
use Ypomna\App\People\Value\Token;
use Ypomna\App\Shared\Role;
use Ypomna\App\Shared\SignedIn;
use Ypomna\App\Shared\Viewer;

/** A program that acts for a person. */
final readonly class TokenAccount implements UserInterface, SignedIn
{
    use NamedUser;

    /** A program reads no screens, so it has no language. */
    private function __construct(
        public Token $token,
        public string $name,
        public Role $role,
        private ?string $zone,
        private ?string $language = null,
    ) {
    }

    public static function of(Token $token, string $name, string $role, ?string $zone): self
    {
        return new self($token, $name, Role::from($role), $zone);
    }

    public function viewer(): Viewer
    {
        return Viewer::person($this->name, $this->role);
    }

    public function has(Scope $scope): bool
    {
        return \in_array($scope, $this->token->scopes, true);
    }

    public function getRoles(): array
    {
        return ['ROLE_PROGRAM'];
    }
}
