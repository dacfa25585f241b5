<?php

declare(strict_types=1);

namespace Ypomna\App\Access;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Symfony\Contracts\Service\ResetInterface;
use Ypomna\App\Shared\BulkInsert;
use Ypomna\App\Shared\Row;

/**
 * Who may see what is limited to some. Rooms enter what they decide within their own transactions; nothing else is read here.
 *
 * A thing is named by its code. A grant says on what ground somebody may see it: it was `made` by that person; it is `held` by the
 * dossier of that code, whose people may see it; the person is a `member` of it, if it is a dossier. `closed` is no grant but the
 * state before which all of them give way.
 */
final class Grants implements ResetInterface
{
    private const AT_ONCE = 1_000;

    /** @var array<string, bool> whether anything was granted, by name; for one request, and until something is granted here */
    private array $known = [];

    public function __construct(private readonly Connection $database)
    {
    }

    public function reset(): void
    {
        $this->known = [];
    }

    /** Whether anything at all was granted to somebody. */
    public function toAnything(string $name): bool
    {
        return $this->known[$name] ??= false !== $this->database->fetchOne('SELECT 1 FROM access_grant WHERE holder = ? LIMIT 1', [$name]);
    }

    /** How much was granted to somebody: a thing that is granted on two grounds counts twice. */
    public function number(string $name): int
    {
        $number = $this->database->fetchOne(
            <<<'SQL'
                SELECT (SELECT COUNT(*) FROM access_grant WHERE holder = ? AND ground = 'made' AND closed = 0) + (
                    SELECT COUNT(*) FROM access_grant m JOIN access_grant h ON h.holder = m.thing AND h.ground = 'held' AND h.closed = 0
                    WHERE m.holder = ? AND m.ground = 'member'
                )
                SQL,
            [$name, $name],
        );

        return is_numeric($number) ? (int) $number : 0;
    }

    /** @param list<string> $things codes */
    public function made(array $things, string $by): void
    {
        $this->give($things, Ground::Made, $by);
    }

    /** @param list<string> $things codes of what a dossier holds */
    public function held(array $things, string $dossier): void
    {
        $this->give($things, Ground::Held, $dossier);
    }

    /** @param list<string> $things codes */
    public function noLongerHeld(array $things, string $dossier): void
    {
        $this->take($things, Ground::Held, $dossier);
    }

    /** @param list<string> $things codes of what nobody may see but who sees everything */
    public function close(array $things): void
    {
        $this->give($things, Ground::Closed, '');
        $this->mark($things, true);
    }

    /** @param list<string> $things codes */
    public function reopen(array $things): void
    {
        $this->take($things, Ground::Closed, null);
        $this->mark($things, false);
    }

    /** @param list<string> $things codes of what is for everybody from now on, as far as who made it decides */
    public function madeForAll(array $things): void
    {
        $this->take($things, Ground::Made, null);
    }

    /**
     * Who belongs to a dossier, in place of those before.
     *
     * @param array<string, string> $people parts by name
     */
    public function members(string $dossier, array $people): void
    {
        $this->take([$dossier], Ground::Member, null);
        $rows = $this->rows();
        foreach ($people as $name => $part) {
            $rows->add([$dossier, Ground::Member->value, (string) $name, $part]);
        }
        $rows->flush();
        $this->markGiven([$dossier]);
    }

    /** The part of somebody in a dossier; null if they belong to it by nothing. */
    public function part(string $dossier, string $name): ?string
    {
        $part = $this->database->fetchOne(
            'SELECT part FROM access_grant WHERE thing = ? AND ground = ? AND holder = ?', [$dossier, Ground::Member->value, $name],
        );

        return \is_string($part) ? $part : null;
    }

    /**
     * The parts of somebody in dossiers.
     *
     * @param list<string> $dossiers codes
     *
     * @return array<string, string> by code of the dossier
     */
    public function parts(array $dossiers, string $name): array
    {
        $parts = [];
        foreach (array_chunk($dossiers, self::AT_ONCE) as $some) {
            foreach ($this->database->fetchAllAssociative(
                'SELECT thing, part FROM access_grant WHERE thing IN (?) AND ground = ? AND holder = ?',
                [$some, Ground::Member->value, $name], [ArrayParameterType::STRING],
            ) as $values) {
                $row = new Row($values);
                $parts[$row->text('thing')] = $row->text('part');
            }
        }

        return $parts;
    }

    /**
     * The dossiers to which somebody belongs.
     *
     * @param list<string> $parts only those in which they have one of these parts
     *
     * @return list<string> codes
     */
    public function memberships(string $name, array $parts): array
    {
        return array_values(array_filter($this->database->fetchFirstColumn(
            'SELECT thing FROM access_grant WHERE holder = ? AND ground = ? AND part IN (?)',
            [$name, Ground::Member->value, $parts], [2 => ArrayParameterType::STRING],
        ), \is_string(...)));
    }

    /**
     * Those of them that are limited to some: made so, or closed.
     *
     * @param list<string> $things codes
     *
     * @return list<string>
     */
    public function limitedAmong(array $things): array
    {
        return $this->among($things, [Ground::Made, Ground::Closed]);
    }

    /**
     * Those of them that are confidential.
     *
     * @param list<string> $things codes
     *
     * @return list<string>
     */
    public function confidentialAmong(array $things): array
    {
        return $this->among($things, [Ground::Made]);
    }

    /**
     * Whether a thing is open to somebody.
     *
     * @param bool $limited whether it is limited to some
     * @param string $thing its code
     */
    public function open(Sight $sight, bool $limited, string $thing): bool
    {
        return !$limited || $sight->isWhole()
            || false !== $this->database->fetchOne('SELECT 1 FROM (SELECT ? AS code) t WHERE '.$sight->reaches('t.code'), [$thing]);
    }

    /** Who made what is confidential; null if it is not. */
    public function maker(string $thing): ?string
    {
        $name = $this->database->fetchOne(
            'SELECT holder FROM access_grant WHERE thing = ? AND ground = ?', [$thing, Ground::Made->value],
        );

        return \is_string($name) ? $name : null;
    }

    /** @return list<string> codes of the dossiers that hold a thing */
    public function holders(string $thing): array
    {
        return array_values(array_filter($this->database->fetchFirstColumn(
            'SELECT holder FROM access_grant WHERE thing = ? AND ground = ?', [$thing, Ground::Held->value],
        ), \is_string(...)));
    }

    /**
     * Who sees a thing, in place of those before.
     *
     * @param string|null $maker who sees it because they made it
     * @param list<string> $holders codes of dossiers
     */
    public function replace(string $thing, ?string $maker, array $holders): void
    {
        $this->take([$thing], Ground::Made, null);
        $this->take([$thing], Ground::Held, null);
        $rows = $this->rows();
        if (null !== $maker) {
            $rows->add([$thing, Ground::Made->value, $maker, '']);
        }
        foreach ($holders as $holder) {
            $rows->add([$thing, Ground::Held->value, $holder, '']);
        }
        $rows->flush();
        $this->markGiven([$thing]);
    }

    public function isClosed(string $thing): bool
    {
        return [] !== $this->among([$thing], [Ground::Closed]);
    }

    /**
     * @param list<string> $things
     * @param list<Ground> $grounds
     *
     * @return list<string>
     */
    private function among(array $things, array $grounds): array
    {
        $found = [];
        foreach (array_chunk($things, self::AT_ONCE) as $some) {
            array_push($found, ...array_filter($this->database->fetchFirstColumn(
                'SELECT DISTINCT thing FROM access_grant WHERE thing IN (?) AND ground IN (?)',
                [$some, array_map(static fn (Ground $one): string => $one->value, $grounds)],
                [ArrayParameterType::STRING, ArrayParameterType::STRING],
            ), \is_string(...)));
        }

        return $found;
    }

    /** @param list<string> $things */
    private function give(array $things, Ground $ground, string $holder): void
    {
        $rows = $this->rows();
        foreach ($things as $thing) {
            $rows->add([$thing, $ground->value, $holder, '']);
        }
        $rows->flush();
        $this->markGiven($things);
    }

    /**
     * What is granted of something that is closed counts for nothing until that is opened again. Each grant says so itself: who sees what
     * is asked for very many things at once.
     *
     * @param list<string> $things
     */
    private function markGiven(array $things): void
    {
        foreach (array_chunk($things, self::AT_ONCE) as $some) {
            $this->database->executeStatement(
                'UPDATE access_grant g JOIN access_grant x ON x.thing = g.thing AND x.ground = ? SET g.closed = 1 WHERE g.thing IN (?)',
                [Ground::Closed->value, $some], [1 => ArrayParameterType::STRING],
            );
        }
    }

    /** @param list<string> $things */
    private function mark(array $things, bool $closed): void
    {
        foreach (array_chunk($things, self::AT_ONCE) as $some) {
            $this->database->executeStatement(
                'UPDATE access_grant SET closed = ? WHERE thing IN (?)', [$closed ? 1 : 0, $some], [1 => ArrayParameterType::STRING],
            );
        }
    }

    private function rows(): BulkInsert
    {
        $this->known = [];

        return new BulkInsert('access_grant (thing, ground, holder, part)', function (string $statement): void {
            $this->database->executeStatement($statement);
        }, 'REPLACE');
    }

    /** @param list<string> $things */
    private function take(array $things, Ground $ground, ?string $holder): void
    {
        foreach (array_chunk($things, self::AT_ONCE) as $some) {
            $this->database->executeStatement(
                'DELETE FROM access_grant WHERE thing IN (?) AND ground = ?'.(null === $holder ? '' : ' AND holder = ?'),
                [$some, $ground->value, ...(null === $holder ? [] : [$holder])],
                [ArrayParameterType::STRING],
            );
        }
    }
}
