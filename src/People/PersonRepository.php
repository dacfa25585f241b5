<?php

declare(strict_types=1);

namespace Ypomna\App\People;

use Doctrine\ORM\EntityManagerInterface;
use Ypomna\App\People\Entity\Person;
use Ypomna\App\Shared\KnownPeople;
use Ypomna\App\Shared\Role;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Account\PersonName;

/** The people of this house. */
final readonly class PersonRepository implements KnownPeople
{
    public function __construct(private EntityManagerInterface $entities, private SecretBox $box)
    {
    }

    /** By a name as somebody typed it; closed people too. */
    public function named(string $typed): ?Person
    {
        $name = PersonName::of($typed);

        return null === $name ? null : $this->entities->getRepository(Person::class)->findOneBy(['name' => $name]);
    }

    public function byId(int $id): ?Person
    {
        return $this->entities->find(Person::class, $id);
    }

    public function byCode(string $code): ?Person
    {
        return $this->entities->getRepository(Person::class)->findOneBy(['code' => $code]);
    }

    /** @return list<Person> whoever has that address and is not closed */
    public function byMail(string $mail): array
    {
        return $this->entities->getRepository(Person::class)->findBy(['mail' => $mail, 'closedAt' => null], ['id' => 'ASC'], 20);
    }

    /** @return list<Person> by name */
    public function all(): array
    {
        return $this->entities->getRepository(Person::class)->findBy([], ['name' => 'ASC']);
    }

    /**
     * @param int $after number of the one that was shown last; 0 at the beginning
     *
     * @return list<Person> in the order in which they were made
     */
    public function after(int $after, int $most): array
    {
        /** @var list<Person> $found */
        $found = $this->entities->createQuery('SELECT p FROM '.Person::class.' p WHERE p.id > :after ORDER BY p.id')
            ->setParameter('after', $after)->setMaxResults($most)->getResult();

        return $found;
    }

    public function hasAny(): bool
    {
        return null !== $this->entities->getRepository(Person::class)->findOneBy([]);
    }

    /** Whether an administrator would be left without that one. */
    public function hasOtherAdministrator(Person $person): bool
    {
        foreach ($this->entities->getRepository(Person::class)->findBy(['role' => Role::Administrator, 'closedAt' => null]) as $one) {
            if ($one->id !== $person->id) {
                return true;
            }
        }

        return false;
    }

    /** What opens the feed of events for that person's programs, until it is renewed. */
    public function feedKey(Person $person): string
    {
        return $person->code.'-'.substr(bin2hex($this->box->digest('feed '.$person->code.' '.$person->feed)), 0, 40);
    }

    public function readerOfFeed(string $key): Viewer
    {
        $person = $this->byCode(substr($key, 0, 12));

        return null !== $person && !$person->isClosed() && hash_equals($this->feedKey($person), $key)
            ? Viewer::person($person->name, $person->role) : Viewer::nobody();
    }

    public function viewer(string $name): Viewer
    {
        $person = $this->named($name);

        return null === $person || $person->isClosed() ? Viewer::nobody() : Viewer::person($person->name, $person->role);
    }
}
