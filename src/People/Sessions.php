<?php

declare(strict_types=1);

namespace Ypomna\App\People;

use Doctrine\DBAL\Connection;
use Psr\Clock\ClockInterface;
use Symfony\Component\HttpFoundation\RequestStack;
use Ypomna\App\People\Entity\Person;
use Ypomna\App\People\Value\OpenSession;
use Ypomna\App\Shared\OpenSessions;
use Ypomna\App\Shared\Role;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Type\MomentType;
use Ypomna\App\Shared\Viewer;

/** Where people are signed in. A session without its row here is none, whatever its cookie says. */
final readonly class Sessions implements OpenSessions
{
    /** Days after which a session that was not used has ended, and after which any has. */
    private const IDLE_DAYS = 7;
    private const MOST_DAYS = 30;

    public function __construct(private Connection $database, private ClockInterface $realTime, private RequestStack $requests)
    {
    }

    public function begin(Person $person): Account
    {
        $key = bin2hex(random_bytes(32));
        $now = MomentType::text($this->realTime->now());
        $request = $this->requests->getMainRequest();
        $this->database->executeStatement(
            'DELETE FROM person_session WHERE seen_at < ?', [MomentType::text($this->realTime->now()->modify('-'.self::MOST_DAYS.' days'))],
        );
        $this->database->insert('person_session', [
            'hash' => self::hash($key), 'person_id' => $person->id(), 'begun_at' => $now, 'seen_at' => $now,
            'network' => (string) $request?->getClientIp(),
            'agent' => mb_substr(mb_scrub((string) $request?->headers->get('User-Agent')), 0, 300),
        ]);

        return new Account($person->id(), $person->name, $person->role, $key, $person->zone, $person->language);
    }

    /** The same account as it is now; null if its session has ended or the person is closed. */
    public function renewed(Account $account): ?Account
    {
        $now = $this->realTime->now();
        $found = $this->database->fetchAssociative(
            <<<'SQL'
                SELECT p.id, p.name, p.role, p.zone, p.language, s.seen_at
                FROM person_session s JOIN person p ON p.id = s.person_id
                WHERE s.hash = ? AND s.seen_at > ? AND s.begun_at > ? AND p.closed_at IS NULL
                SQL,
            [
                self::hash($account->session), MomentType::text($now->modify('-'.self::IDLE_DAYS.' days')),
                MomentType::text($now->modify('-'.self::MOST_DAYS.' days')),
            ],
        );
        if (false === $found) {
            return null;
        }
        $row = new Row($found);
        if ($row->int('id') !== $account->person) {
            return null;
        }
        if ($row->moment('seen_at') < $now->modify('-1 minute')) {
            $this->database->executeStatement(
                'UPDATE person_session SET seen_at = ? WHERE hash = ?', [MomentType::text($now), self::hash($account->session)],
            );
        }

        return new Account(
            $account->person, $row->text('name'), Role::from($row->text('role')), $account->session, $row->textOrNull('zone'),
            $row->textOrNull('language'),
        );
    }

    public function viewer(string $session): ?Viewer
    {
        $now = $this->realTime->now();
        $found = $this->database->fetchAssociative(
            <<<'SQL'
                SELECT p.name, p.role FROM person_session s JOIN person p ON p.id = s.person_id
                WHERE s.hash = ? AND s.seen_at > ? AND s.begun_at > ? AND p.closed_at IS NULL
                SQL,
            [
                (string) hex2bin($session), MomentType::text($now->modify('-'.self::IDLE_DAYS.' days')),
                MomentType::text($now->modify('-'.self::MOST_DAYS.' days')),
            ],
        );
        $row = Row::of($found);

        return false === $found ? null : Viewer::person($row->text('name'), Role::from($row->text('role')), $session);
    }

    /** @return list<OpenSession> the one used last first */
    public function of(Account $account): array
    {
        $rows = $this->database->fetchAllAssociative(
            <<<'SQL'
                SELECT LOWER(HEX(hash)) AS hash, begun_at, seen_at, network, agent FROM person_session
                WHERE person_id = ? AND seen_at > ? ORDER BY seen_at DESC LIMIT 100
                SQL,
            [$account->person, MomentType::text($this->realTime->now()->modify('-'.self::IDLE_DAYS.' days'))],
        );
        $own = bin2hex(self::hash($account->session));

        return array_map(static fn (array $values): OpenSession => self::session(new Row($values), $own), $rows);
    }

    /**
     * @param string $hash as the list has it
     *
     * @return bool whether there was such a session of that person
     */
    public function end(int $person, string $hash): bool
    {
        return 1 === preg_match('/^[0-9a-f]{64}$/D', $hash)
            && 0 < $this->database->executeStatement(
                'DELETE FROM person_session WHERE hash = ? AND person_id = ?', [(string) hex2bin($hash), $person],
            );
    }

    public function endOwn(Account $account): void
    {
        $this->database->executeStatement('DELETE FROM person_session WHERE hash = ?', [self::hash($account->session)]);
    }

    /**
     * @param Account|null $but whose session stays; null for none
     *
     * @return int how many were ended
     */
    public function endAll(int $person, ?Account $but = null): int
    {
        return (int) $this->database->executeStatement(
            'DELETE FROM person_session WHERE person_id = ? AND hash <> ?',
            [$person, null === $but ? str_repeat("\0", 32) : self::hash($but->session)],
        );
    }

    private static function session(Row $row, string $own): OpenSession
    {
        return new OpenSession(
            $row->text('hash'), $row->moment('begun_at'), $row->moment('seen_at'), $row->text('network'), $row->text('agent'),
            $row->text('hash') === $own,
        );
    }

    private static function hash(string $key): string
    {
        return hash('sha256', $key, true);
    }
}
