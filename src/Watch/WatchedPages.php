<?php

declare(strict_types=1);

namespace Ypomna\App\Watch;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Ypomna\App\Liveness\LiveSql;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Type\MomentType;
use Ypomna\App\Watch\Entity\Watch;
use Ypomna\App\Watch\Value\WatchedPage;

/** The pages of watches, and what there is to tell about them, in the database. */
final readonly class WatchedPages
{
    public const PAGE = 100;
    private const FIELDS = 'p.id, p.watch_id, p.live_id, p.next_at, p.interval_days, p.checked_at, p.changed_at, p.seen, p.etag,'
        .' p.modified, p.is_blind, p.is_gone, p.job_code, p.pending, p.trouble, '
        .LiveSql::FIELDS;

    public function __construct(private Connection $database)
    {
    }

    /**
     * Pages that are watched and are to be checked now.
     *
     * @return list<int> numbers of their addresses
     */
    public function due(\DateTimeImmutable $now, int $most): array
    {
        return array_map(
            static fn (mixed $id): int => is_numeric($id) ? (int) $id : 0,
            $this->database->fetchFirstColumn(
                'SELECT p.live_id'.self::from()." JOIN watch w ON w.id = p.watch_id WHERE p.next_at <= ? AND w.state = 'running' AND NOT "
                    .LiveSql::IS_QUEUED.' ORDER BY p.next_at LIMIT '.max(1, $most),
                [MomentType::text($now)],
            ),
        );
    }

    /**
     * @return list<WatchedPage> of running watches
     */
    public function ofAddress(int $liveId): array
    {
        return array_map(
            WatchedPage::of(...),
            $this->database->fetchAllAssociative(
                'SELECT '.self::FIELDS.self::from()." JOIN watch w ON w.id = p.watch_id WHERE p.live_id = ? AND w.state = 'running'",
                [$liveId],
            ),
        );
    }

    /**
     * @param int $after number of the page that was shown last
     *
     * @return list<WatchedPage>
     */
    public function pages(Watch $watch, int $after = 0, int $most = self::PAGE): array
    {
        return array_map(
            WatchedPage::of(...),
            $this->database->fetchAllAssociative(
                'SELECT '.self::FIELDS.self::from().' WHERE p.watch_id = ? AND p.id > ? ORDER BY p.id LIMIT '.max(1, $most),
                [$watch->id, $after],
            ),
        );
    }

    /**
     * Pages whose frequency is found out, for sharing the budget out.
     *
     * @return \Generator<int, WatchedPage>
     */
    public function found(): \Generator
    {
        $after = 0;
        do {
            $rows = $this->database->fetchAllAssociative(
                'SELECT '.self::FIELDS.self::from()
                    ." JOIN watch w ON w.id = p.watch_id WHERE p.id > ? AND w.state = 'running' AND w.every_days IS NULL AND p.is_gone ="
                        .' 0 ORDER BY p.id LIMIT 500',
                [$after],
            );
            foreach ($rows as $values) {
                $page = WatchedPage::of($values);
                $after = $page->id;
                yield $page;
            }
        } while ([] !== $rows);
    }

    /**
     * Pages that were ordered to be captured, and nothing is known yet of how that ended.
     *
     * @return list<WatchedPage>
     */
    public function ordered(): array
    {
        return array_map(
            WatchedPage::of(...),
            $this->database->fetchAllAssociative('SELECT '.self::FIELDS.self::from().' WHERE p.job_code IS NOT NULL LIMIT 2000'),
        );
    }

    /** @return WatchedPage|null the page for which that job was ordered */
    public function ofJob(string $jobCode): ?WatchedPage
    {
        $row = $this->database->fetchAssociative('SELECT '.self::FIELDS.self::from().' WHERE p.job_code = ?', [$jobCode]);

        return false === $row ? null : WatchedPage::of($row);
    }

    /** Lets one process alone see to how a job ended; whoever comes later is told that it is seen to. Meant for a transaction. */
    public function claim(WatchedPage $page): bool
    {
        return 1 === (int) $this->database->executeStatement(
            'UPDATE watched_page SET job_code = NULL WHERE id = ? AND job_code = ?', [$page->id, $page->jobCode],
        );
    }

    /**
     * @param list<int> $liveIds
     * @param list<list<array{float, int}>> $seen what captures told before, one an address
     */
    public function add(Watch $watch, array $liveIds, array $seen, \DateTimeImmutable $now): void
    {
        foreach ($liveIds as $n => $id) {
            $this->database->executeStatement(
                'INSERT IGNORE INTO watched_page (watch_id, live_id, next_at, interval_days, seen) VALUES (?, ?, ?, ?, ?)',
                [$watch->id, $id, MomentType::text($now), $watch->everyDays ?? 1.0, json_encode($seen[$n] ?? [], \JSON_THROW_ON_ERROR)],
            );
        }
    }

    /**
     * Watches of folders, hosts and lists of references that everybody sees look at no address that is held for some only.
     *
     * @param list<string> $keys hashes of their keys, hex
     */
    public function leaveOut(array $keys): void
    {
        $this->database->executeStatement(
            'DELETE p'.self::from().' JOIN watch w ON w.id = p.watch_id WHERE w.limited = 0 AND '.LiveSql::KEY_HASH.' IN (?)',
            [array_map(hex2bin(...), $keys)],
            [ArrayParameterType::BINARY],
        );
    }

    /** @param array<string, mixed> $values */
    public function update(int $page, array $values): void
    {
        $this->database->executeStatement(
            'UPDATE watched_page SET '.implode(', ', array_map(static fn (string $name): string => $name.' = ?', array_keys($values)))
                .' WHERE id = ?',
            [...array_values($values), $page],
        );
    }

    /**
     * @return array{pages: int, gone: int, next: \DateTimeImmutable|null}
     */
    public function counts(Watch $watch): array
    {
        $row = Row::of($this->database->fetchAssociative(
            'SELECT COUNT(*) AS pages, COALESCE(SUM(is_gone), 0) AS gone, MIN(next_at) AS next_at FROM watched_page WHERE watch_id = ?',
            [$watch->id],
        ));

        return ['pages' => $row->int('pages'), 'gone' => $row->int('gone'), 'next' => $row->momentOrNull('next_at')];
    }

    /**
     * @param list<int> $codes numbers of watches
     *
     * @return array<int, array{pages: int, gone: int, next: \DateTimeImmutable|null}>
     */
    public function countsOf(array $codes): array
    {
        $counts = [];
        foreach ([] === $codes ? [] : $this->database->fetchAllAssociative(
            <<<'SQL'
                SELECT watch_id, COUNT(*) AS pages, COALESCE(SUM(is_gone), 0) AS gone, MIN(next_at) AS next_at
                FROM watched_page
                WHERE watch_id IN (?)
                GROUP BY watch_id
                SQL,
            [$codes],
            [ArrayParameterType::INTEGER],
        ) as $values) {
            $row = new Row($values);
            $counts[$row->int('watch_id')] = [
                'pages' => $row->int('pages'), 'gone' => $row->int('gone'), 'next' => $row->momentOrNull('next_at'),
            ];
        }

        return $counts;
    }

    /** All pages of a watch are checked as soon as may be. */
    public function hurry(Watch $watch, \DateTimeImmutable $now): void
    {
        $this->database->executeStatement('UPDATE watched_page SET next_at = ? WHERE watch_id = ?', [MomentType::text($now), $watch->id]);
    }

    private static function from(): string
    {
        return ' FROM watched_page p'.LiveSql::join('p.live_id');
    }
}
