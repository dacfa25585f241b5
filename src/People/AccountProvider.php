<?php

declare(strict_types=1);

namespace Ypomna\App\People;

use Symfony\Component\DependencyInjection\Attribute\AutowireServiceClosure;
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
    /**
     * @param \Closure(): PersonRepository $people
     * @param \Closure(): PeopleLog $log
     */
    public function __construct(
        private Sessions $sessions,
        #[AutowireServiceClosure(PersonRepository::class)] private \Closure $people,
        #[AutowireServiceClosure(PeopleLog::class)] private \Closure $log,
    ) {
    }

    public function refreshUser(UserInterface $user): Account
    {
        return ($user instanceof Account ? $this->sessions->renewed($user) : null) ?? throw new UserNotFoundException();
    }

    public function supportsClass(string $class): bool
    {
        return Account::class === $class;
    }

    /** Somebody whom a proxy in front has signed in ({@see ProxySignIn}); nobody else comes in by a name alone. */
    public function loadUserByIdentifier(string $identifier): Account
    {
        $person = ($this->people)()->named($identifier);
        if (null === $person || $person->isClosed()) {
            throw new UserNotFoundException();
        }
        ($this->log)()->note(LoggedAct::SignedIn, $person->name, '', 'proxy');

        return $this->sessions->begin($person);
    }
}
