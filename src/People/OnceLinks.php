<?php

declare(strict_types=1);

namespace Ypomna\App\People;

use Doctrine\DBAL\Connection;
use Psr\Clock\ClockInterface;
use Ypomna\App\Access\Gate;
use Ypomna\App\Access\Right;
use Ypomna\App\People\Entity\Person;
use Ypomna\App\People\Value\LinkKind;
use Ypomna\App\People\Value\OnceLink;
use Ypomna\App\Shared\Role;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Type\MomentType;

/** Links for the first person, for whoever is invited, and for a new password. The key stands in the link alone; here is its digest. */
final readonly class OnceLinks
{
    /** Form of a key in a link. */
    public const KEY = '[A-Za-z0-9_-]{43}';

    public function __construct(
        private Connection $database,
        private ClockInterface $realTime,
        private PersonRepository $people,
        private Gate $gate,
    ) {
    }

    /** @return string key of a link that makes the first person; those made before hold no longer */
    public function first(): string
    {
        $this->database->executeStatement('DELETE FROM person_link WHERE kind = ?', [LinkKind::First->value]);

        return $this->make(LinkKind::First, '', role: Role::Administrator);
    }

    public function invitation(string $by, Role $role, ?string $mail): string
    {
        return $this->make(LinkKind::Invitation, $by, role: $role, mail: $mail);
    }

    /** @param string $by who made it for that person; '' if they asked for it themselves */
    public function reset(string $by, Person $person): string
    {
        $this->database->executeStatement('DELETE FROM person_link WHERE person_id = ?', [$person->id()]);

        return $this->make(LinkKind::Reset, $by, $person);
    }

    /** @return OnceLink|null null if it was used, is older than a day, or does not hold any more for another reason */
    public function find(string $key): ?OnceLink
    {
        $found = $this->database->fetchAssociative(
            'SELECT kind, person_id, role, mail, made_by FROM person_link WHERE hash = ? AND made_at > ?',
            [self::hash($key), $this->oldest()],
        );
        if (false === $found) {
            return null;
        }
        $row = new Row($found);
        $role = $row->textOrNull('role');
        $link = new OnceLink(
            $key, LinkKind::from($row->text('kind')), $row->intOrNull('person_id'), null === $role ? null : Role::from($role),
            $row->textOrNull('mail'), $row->text('made_by'),
        );

        return $this->holds($link) ? $link : null;
    }

    /** @return bool whether it was still there: of two who use it at once, one does */
    public function used(OnceLink $link): bool
    {
        return 1 === $this->database->executeStatement(
            'DELETE FROM person_link WHERE hash = ? AND made_at > ?', [self::hash($link->key), $this->oldest()],
        );
    }

    private function holds(OnceLink $link): bool
    {
        return match ($link->kind) {
            LinkKind::First => !$this->people->hasAny(),
            // Whoever may invite nobody any more has invited nobody.
            LinkKind::Invitation => '' === $link->madeBy || $this->gate->may($this->people->viewer($link->madeBy), Right::Administer),
            LinkKind::Reset => null !== $link->person && false === $this->people->byId($link->person)?->isClosed(),
        };
    }

    private function make(LinkKind $kind, string $by, ?Person $person = null, ?Role $role = null, ?string $mail = null): string
    {
        $key = rtrim(strtr(base64_encode(random_bytes(32)), '+/', '-_'), '=');
        $this->database->executeStatement('DELETE FROM person_link WHERE made_at <= ?', [$this->oldest()]);
        $this->database->insert('person_link', [
            'hash' => self::hash($key), 'kind' => $kind->value, 'person_id' => $person?->id(), 'role' => $role?->value, 'mail' => $mail,
            'made_by' => $by, 'made_at' => MomentType::text($this->realTime->now()),
        ]);

        return $key;
    }

    private function oldest(): string
    {
        return MomentType::text($this->realTime->now()->modify('-1 day'));
    }

    private static function hash(string $key): string
    {
        return hash('sha256', $key, true);
    }
}
