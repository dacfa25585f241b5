<?php

declare(strict_types=1);

namespace Ypomna\App\People;

use Doctrine\DBAL\Exception\UniqueConstraintViolationException;
use Doctrine\DBAL\LockMode;
use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Ypomna\App\People\Entity\Person;
use Ypomna\App\People\Value\OnceLink;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Languages;
use Ypomna\App\Shared\Role;
use Ypomna\Core\Account\PersonName;

/** Makes people, changes their rights, and closes them. Each act stands in the log, with whoever did it. */
final readonly class PersonChanges
{
    public function __construct(
        private EntityManagerInterface $entities,
        private PersonRepository $people,
        private Passwords $passwords,
        private Sessions $sessions,
        private OnceLinks $links,
        private PeopleLog $log,
        private Languages $languages,
        private ClockInterface $realTime,
    ) {
    }

    /**
     * @param string|null $hash of the password; null if there is none yet
     * @param (\Closure(): bool)|null $unless it says no within the same transaction
     *
     * @throws CannotChange
     */
    public function add(Actor $by, string $typed, Role $role, ?string $mail, ?string $hash, ?\Closure $unless = null): Person
    {
        $name = PersonName::of($typed) ?? throw new CannotChange('people.no_name', ['n' => PersonName::MOST]);
        if (null !== $mail && (false === filter_var($mail, \FILTER_VALIDATE_EMAIL) || \strlen($mail) > 190)) {
            throw new CannotChange('people.no_mail', ['mail' => $mail]);
        }
        if (null !== $this->people->named($name)) {
            throw new CannotChange('people.name_taken', ['name' => $name]);
        }
        $person = new Person(Codes::random(), $name, $role, $mail, $this->realTime->now());
        $person->password = $hash;
        try {
            $this->entities->wrapInTransaction(function () use ($person, $by, $unless): void {
                if (null !== $unless && !$unless()) {
                    throw new CannotChange('people.link_used');
                }
                $this->entities->persist($person);
                $this->entities->flush();
                $this->log->note(LoggedAct::PersonAdded, $by->name, $person->name, $person->role->value);
            });
        } catch (UniqueConstraintViolationException) {
            throw new CannotChange('people.name_taken', ['name' => $name]);
        }

        return $person;
    }

    /**
     * Somebody comes in by a link: the first person, or whoever was invited.
     *
     * @throws CannotChange
     */
    public function join(OnceLink $link, string $typed, #[\SensitiveParameter] string $password): Person
    {
        $hash = $this->passwords->hash($password, $typed);
        $role = $link->role ?? throw new CannotChange('people.link_used');
        // Who joins by the first link is added by themselves.
        $by = new Actor('' === $link->madeBy ? PersonName::of($typed) ?? '' : $link->madeBy);
        $person = $this->add($by, $typed, $role, $link->mail, $hash, fn (): bool => $this->links->used($link));
        $this->log->note(LoggedAct::LinkUsed, $person->name, '', $link->kind->value);

        return $person;
    }

    /** @throws CannotChange */
    public function resetPassword(OnceLink $link, #[\SensitiveParameter] string $password): Person
    {
        $person = null === $link->person ? null : $this->people->byId($link->person);
        if (null === $person) {
            throw new CannotChange('people.link_used');
        }
        $hash = $this->passwords->hash($password, $person->name);
        if (!$this->links->used($link)) {
            throw new CannotChange('people.link_used');
        }
        $person->password = $hash;
        $this->entities->flush();
        $this->sessions->endAll($person->id());
        $this->log->note(LoggedAct::LinkUsed, $person->name, '', $link->kind->value);
        $this->log->note(LoggedAct::PasswordChanged, $person->name);

        return $person;
    }

    /** @throws CannotChange */
    public function changePassword(Account $account, #[\SensitiveParameter] string $old, #[\SensitiveParameter] string $new): void
    {
        $person = $this->own($account);
        if (!$this->passwords->isRight($person, $old)) {
            throw new CannotChange('people.wrong_old_password');
        }
        $person->password = $this->passwords->hash($new, $person->name);
        $this->entities->flush();
        $this->sessions->endAll($person->id(), $account);
        $this->log->note(LoggedAct::PasswordChanged, $person->name);
    }

    /**
     * @param string $zone '' for the browser's
     *
     * @throws CannotChange
     */
    public function setZone(Account $account, string $zone): void
    {
        if ('' !== $zone && !\in_array($zone, \DateTimeZone::listIdentifiers(), true)) {
            throw new CannotChange('people.no_zone', ['zone' => mb_substr(mb_scrub($zone), 0, 60)]);
        }
        $this->own($account)->zone = '' === $zone ? null : $zone;
        $this->entities->flush();
    }

    /**
     * @param string $language '' for the browser's
     *
     * @throws CannotChange
     */
    public function setLanguage(Account $account, string $language): void
    {
        if ('' !== $language && !\in_array($language, $this->languages->all(), true)) {
            throw new CannotChange('people.no_language', ['language' => mb_substr(mb_scrub($language), 0, 20)]);
        }
        $this->own($account)->language = '' === $language ? null : $language;
        $this->entities->flush();
    }

    /** The key that opened their feed opens it no more. */
    public function renewFeed(Account $account): void
    {
        ++$this->own($account)->feed;
        $this->entities->flush();
    }

    /** @throws CannotChange if nobody would be left to look after people */
    public function setRole(Actor $by, Person $person, Role $role): void
    {
        if ($person->role === $role) {
            return;
        }
        $this->keepAnAdministrator($person);
        $old = $person->role;
        $person->role = $role;
        $this->entities->flush();
        $this->log->note(LoggedAct::RoleChanged, $by->name, $person->name, $old->value.' → '.$role->value);
    }

    /** @throws CannotChange if nobody would be left to look after people */
    public function close(Actor $by, Person $person): void
    {
        if ($person->isClosed()) {
            return;
        }
        $this->keepAnAdministrator($person);
        $person->closedAt = $this->realTime->now();
        $this->entities->flush();
        $this->sessions->endAll($person->id());
        $this->log->note(LoggedAct::PersonClosed, $by->name, $person->name);
    }

    public function open(Actor $by, Person $person): void
    {
        if ($person->isClosed()) {
            $person->closedAt = null;
            $this->entities->flush();
            $this->log->note(LoggedAct::PersonOpened, $by->name, $person->name);
        }
    }

    /**
     * Changes a person whom nobody else changes meanwhile.
     *
     * @param \Closure(Person): void $change given them as they are now
     */
    public function exclusively(Person $person, \Closure $change): Person
    {
        return $this->entities->getConnection()->transactional(function () use ($person, $change): Person {
            $this->entities->detach($person);
            $now = $this->entities->find(Person::class, $person->id(), LockMode::PESSIMISTIC_WRITE) ?? $person;
            $change($now);

            return $now;
        });
    }

    /** The person behind an account. */
    public function own(Account $account): Person
    {
        return $this->people->byId($account->person) ?? throw new \LogicException('Whoever has signed in is kept.');
    }

    private function keepAnAdministrator(Person $person): void
    {
        if (Role::Administrator === $person->role && !$person->isClosed() && !$this->people->hasOtherAdministrator($person)) {
            throw new CannotChange('people.last_administrator', ['name' => $person->name]);
        }
    }
}
