<?php

declare(strict_types=1);

namespace Ypomna\App\Watch;

use Doctrine\DBAL\Connection;
use Psr\Clock\ClockInterface;
use Symfony\Component\Messenger\MessageBusInterface;
use Ypomna\App\Access\Gate;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Type\MomentType;
use Ypomna\App\Shared\Viewer;
use Ypomna\App\Watch\Entity\Watch;
use Ypomna\App\Watch\Message\CallHook;
use Ypomna\App\Watch\Value\EventKind;
use Ypomna\App\Watch\Value\EventLine;
use Ypomna\Core\Recurrence\ChangeNotice;

/**
 * What watches told: entered once, new to each reader until they have seen it, and told elsewhere if that was asked for. What was seen
 * before there were people (`seen_at`) is new to nobody.
 */
final readonly class WatchEvents
{
    public const PAGE = 60;
    private const FIELDS = 'e.id, w.code AS watch_code, w.name AS watch_name, e.at, e.kind, e.url, e.said_before, e.said_after, e.more,'
        .' e.capture_before, e.capture_after, e.seen_at, e.hook_said, e.hooked_at';
    private const FROM = ' FROM watch_event e JOIN watch w ON w.id = e.watch_id';

    public function __construct(
        private Connection $database,
        private MessageBusInterface $bus,
        private ClockInterface $clock,
        private Gate $gate,
    ) {
    }

    public function enter(
        Watch $watch,
        EventKind $kind,
        ?int $page,
        ?string $url,
        ChangeNotice $finding,
        ?string $before = null,
        ?string $after = null,
    ): void {
        $short = static fn (string $text): string => mb_strimwidth(mb_scrub($text), 0, 2_000, '…');
        $this->database->executeStatement(<<<'SQL'
            INSERT INTO watch_event (
                watch_id, page_id, at, kind, url, said_before, said_after, more, capture_before, capture_after, mailed_at
            )
            VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
            SQL, [
            $watch->id, $page, MomentType::text($this->clock->now()), $kind->value, $url, $short($finding->before),
            $short($finding->after),
            $finding->more, $before, $after, $watch->mails ? null : MomentType::text($this->clock->now()),
        ]);
        $id = (int) $this->database->lastInsertId();
        if (null !== $watch->hookUrl) {
            $this->bus->dispatch(new CallHook($id));
        }
    }

    /**
     * @param int $before number of the event that was shown last; 0 for the newest
     *
     * @return list<EventLine> newest first
     */
    public function events(Viewer $viewer, ?Watch $watch = null, int $before = 0, bool $new = false, int $most = self::PAGE): array
    {
        $where = [$this->seenBy($viewer)];
        $parameters = [];
        if (null !== $watch) {
            $where[] = 'e.watch_id = ?';
            $parameters[] = $watch->id;
        }
        if ($before > 0) {
            $where[] = 'e.id < ?';
            $parameters[] = $before;
        }
        $seen = $this->seenUpTo($viewer);
        if ($new) {
            $where[] = 'e.seen_at IS NULL AND e.id > '.$seen;
        }

        return array_map(
            static fn (array $row): EventLine => EventLine::of($row, $seen),
            $this->database->fetchAllAssociative(
                'SELECT '.self::FIELDS.self::FROM.' WHERE '.implode(' AND ', $where).' ORDER BY e.id DESC LIMIT '.max(1, $most),
                $parameters,
            ),
        );
    }

    public function byId(int $id): ?EventLine
    {
        $row = $this->database->fetchAssociative('SELECT '.self::FIELDS.self::FROM.' WHERE e.id = ?', [$id]);

        return false === $row ? null : EventLine::of($row, 0);
    }

    public function unseen(Viewer $viewer): int
    {
        $count = $this->database->fetchOne(
            'SELECT COUNT(*) FROM (SELECT 1'.self::FROM.' WHERE e.seen_at IS NULL AND e.id > '.$this->seenUpTo($viewer)
                .' AND '.$this->seenBy($viewer).' LIMIT 1000) some',
        );

        return is_numeric($count) ? (int) $count : 0;
    }

    /** An event of a page that is for some only, or that quotes a capture that is, is told to those. */
    private function seenBy(Viewer $viewer): string
    {
        $sight = $this->gate->sight($viewer);

        return $sight->of('w.limited', 'w.code').' AND '.$sight->of('(e.limited_by IS NOT NULL)', 'e.limited_by');
    }

    /**
     * Whoever goes through older ones has seen the newer all the same.
     *
     * @param int $upTo number of the newest that was shown to them
     *
     * @return int up to which they had seen them before
     */
    public function seen(Viewer $viewer, int $upTo): int
    {
        $before = $this->seenUpTo($viewer);
        $this->seenAgain($viewer, max($before, $upTo));

        return $before;
    }

    /** Has somebody have seen those up to that number, and no newer ones. */
    public function seenAgain(Viewer $viewer, int $upTo): void
    {
        $newest = $this->database->fetchOne('SELECT MAX(id) FROM watch_event');
        if (null !== $viewer->name) {
            $this->database->executeStatement(
                'INSERT INTO event_reader (person, seen_up_to) VALUES (?, ?) ON DUPLICATE KEY UPDATE seen_up_to = VALUES(seen_up_to)',
                // Of those still to come nothing can have been seen.
                [$viewer->name, max(0, min($upTo, is_numeric($newest) ? (int) $newest : 0))],
            );
        }
    }

    /** Number of the newest event that somebody has seen; whoever is nobody has nothing that is new. */
    private function seenUpTo(Viewer $viewer): int
    {
        if (null === $viewer->name) {
            return $viewer->isSystem() ? 0 : \PHP_INT_MAX;
        }
        $upTo = $this->database->fetchOne('SELECT seen_up_to FROM event_reader WHERE person = ?', [$viewer->name]);

        return is_numeric($upTo) ? (int) $upTo : 0;
    }

    /**
     * @return list<EventLine> oldest first
     */
    public function toMail(int $most): array
    {
        return array_map(
            static fn (array $row): EventLine => EventLine::of($row, 0),
            $this->database->fetchAllAssociative(
                'SELECT '.self::FIELDS.self::FROM.' WHERE e.mailed_at IS NULL AND '.$this->seenBy(Viewer::nobody())
                    .' ORDER BY e.id LIMIT '.max(1, $most),
            ),
        );
    }

    public function mailed(int $upTo): void
    {
        $this->database->executeStatement(
            'UPDATE watch_event SET mailed_at = ? WHERE mailed_at IS NULL AND id <= ?', [MomentType::text($this->clock->now()), $upTo],
        );
    }

    /** @return int how often it was tried before */
    public function hookTried(int $id, ?string $said): int
    {
        $this->database->executeStatement(
            'UPDATE watch_event SET hook_tries = hook_tries + 1, hook_said = ?, hooked_at = ? WHERE id = ?',
            [
                null === $said ? null : mb_strimwidth(mb_scrub($said), 0, 290, '…'),
                null === $said ? MomentType::text($this->clock->now()) : null,
                $id,
            ],
        );

        return Row::of($this->database->fetchAssociative('SELECT hook_tries FROM watch_event WHERE id = ?', [$id]))->intOrNull('hook_tries')
            ?? 0;
    }
}
