<?php

declare(strict_types=1);

namespace Ypomna\App\People;

use Symfony\Component\PasswordHasher\Hasher\PasswordHasherFactoryInterface;
use Symfony\Component\PasswordHasher\PasswordHasherInterface;
use Ypomna\App\People\Entity\Person;
use Ypomna\Core\Account\PasswordRule;

/** Makes and checks what is kept of passwords (argon2id). */
final readonly class Passwords
{
    private PasswordHasherInterface $hasher;

    public function __construct(PasswordHasherFactoryInterface $hashers)
    {
        $this->hasher = $hashers->getPasswordHasher(Account::class);
    }

    /** @throws CannotChange if it is no good password for that name */
    public function hash(#[\SensitiveParameter] string $password, string $name): string
    {
        $broken = PasswordRule::broken($password, $name);

        return match ($broken) {
            null => $this->hasher->hash($password),
            PasswordRule::TooShort => throw new CannotChange('people.password_too_short', ['n' => PasswordRule::FEWEST]),
            PasswordRule::TooLong => throw new CannotChange('people.password_too_long', ['n' => PasswordRule::MOST_BYTES]),
            PasswordRule::Common => throw new CannotChange('people.password_common'),
            PasswordRule::LikeTheName => throw new CannotChange('people.password_like_the_name'),
        };
    }

    /** As long as the hasher takes it: for who has the machine anyway. */
    public function hashAnyhow(#[\SensitiveParameter] string $password): string
    {
        return $this->hasher->hash($password);
    }

    /** Takes as long for a person that there is as for one that there is not. */
    public function isRight(?Person $person, #[\SensitiveParameter] string $password): bool
    {
        $kept = null === $person || $person->isClosed() ? null : $person->password;
        $typed = substr($password, 0, PasswordRule::MOST_BYTES);
        if (null === $kept) {
            $this->hasher->hash('' === $typed ? '-' : $typed);

            return false;
        }

        return $this->hasher->verify($kept, $typed) && $typed === $password;
    }
}
