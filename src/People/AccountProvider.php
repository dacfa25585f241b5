<?php

declare(strict_types=1);

namespace Ypomna\App\People;

use Symfony\Component\Security\Core\Exception\UserNotFoundException;
use Symfony\Component\Security\Core\User\UserInterface;
use Symfony\Component\Security\Core\User\UserProviderInterface;

/**
 * Renews at each request what a session says of its person.
 *
 * @implements UserProviderInterface<Account>
 */
final readonly class AccountProvider implements UserProviderInterface
{
    public function __construct(private Sessions $sessions)
    {
    }

    public function refreshUser(UserInterface $user): Account
    {
        return ($user instanceof Account ? $this->sessions->renewed($user) : null) ?? throw new UserNotFoundException();
    }

    public function supportsClass(string $class): bool
    {
        return Account::class === $class;
    }

    /** Nobody comes in by a name alone: whoever signs in gets an account from {@see Sessions::begin()}. */
    public function loadUserByIdentifier(string $identifier): never
    {
        throw new UserNotFoundException();
    }
}
