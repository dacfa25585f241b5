<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Sites;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Psr\Clock\ClockInterface;
use Ypomna\App\Capture\Sites\Value\FoundAddress;
use Ypomna\App\Capture\Sites\Value\PageResult;
use Ypomna\App\Capture\Sites\Value\Pause;
use Ypomna\App\Capture\Sites\Value\TakenPage;
use Ypomna\App\Capture\Value\ListState;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\TransactionRetry;
use Ypomna\App\Shared\Type\MomentType;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Crawl\Novelty;
use Ypomna\Core\Crawl\Ruling;
use Ypomna\Core\Crawl\Scope;
use Ypomna\Core\Crawl\Traps;

/**
 * The pages of a site that are known, and how far each has come. All of it stands in the database, so any number of workers
 * share it, and whoever is killed leaves nothing half done: what a worker had taken and not settled is waiting again.
 */
final readonly class Frontier
{
    /** So often a page is tried. */
    public const ATTEMPTS = 3;
    private const AT_ONCE = 40;
    /** Hosts at a time where there has to be a pause between two pages of one. */
    private const HOSTS = 8;
    private const MOST_REST = 3_600;

    public function __construct(private Connection $database, private ClockInterface $clock)
    {
    }

    /**
     * Pages for a worker, those nearest to the beginning first.
     *
     * @param int $run the run that it works for
     *
     * @return list<TakenPage>|Pause why there are none
     */
    public function take(int $crawl, int $slot, int $run): array|Pause
    {
        return TransactionRetry::transaction($this->database, function () use ($crawl, $slot, $run): array|Pause {
            $values = $this->database->fetchAssociative(
                <<<'SQL'
                    SELECT state, run, pause, pages, bytes, most_pages, most_bytes, most_seconds, seconds, running_since
                    FROM crawl
                    WHERE id = ?
                    FOR UPDATE
                    SQL,
                [$crawl],
            );
            $row = Row::of($values);
            if (false === $values || ListState::Running->value !== $row->text('state') || $run !== $row->int('run')) {
                return Pause::Stopped;
            }
            $now = $this->clock->now();
            $since = $row->momentOrNull('running_since') ?? $now;
            $taken = $this->number('SELECT COUNT(*) FROM crawl_page WHERE crawl_id = ? AND state = \'taken\'', [$crawl]);
            $left = $row->int('most_pages') - $row->int('pages') - $taken;
            $spent = match (true) {
                $row->int('bytes') >= $row->int('most_bytes') => Pause::Bytes,
                $row->int('seconds') + $now->getTimestamp() - $since->getTimestamp() >= $row->int('most_seconds') => Pause::Time,
                $left <= 0 && 0 === $taken => Pause::Pages,
                default => null,
            };
            if (null !== $spent
                && $this->number("SELECT EXISTS (SELECT 1 FROM crawl_page WHERE crawl_id = ? AND state = 'waiting')", [$crawl]) > 0) {
                return $taken > 0 ? Pause::Others : $spent;
            }
            $rows = $left <= 0 ? [] : $this->free($crawl, $row->int('pause'), min(self::AT_ONCE, $left), MomentType::text($now));
            if ([] === $rows) {
                return match (true) {
                    $taken > 0 => Pause::Others,
                    $this->number(
                        "SELECT EXISTS (SELECT 1 FROM crawl_page WHERE crawl_id = ? AND state = 'waiting')", [$crawl],
                    ) > 0 => Pause::Pause,
                    default => Pause::Complete,
                };
            }
            $this->database->executeStatement(
                "UPDATE crawl_page SET state = 'taken', slot_id = ?, attempts = attempts + 1, not_before = NULL WHERE id IN (?)",
                [$slot, array_column($rows, 'id')],
                [1 => ArrayParameterType::INTEGER],
            );
            if ($row->int('pause') > 0) {
                foreach (array_unique(array_filter(array_column($rows, 'host'), \is_string(...))) as $host) {
                    $this->rest($crawl, $host, $row->int('pause') / 1_000, false);
                }
            }

            return $this->pages($rows);
        });
    }

    /**
     * @return list<array<string, mixed>>
     */
    private function free(int $crawl, int $pause, int $most, string $now): array
    {
        $resting = $this->database->fetchFirstColumn('SELECT host FROM crawl_host WHERE crawl_id = ? AND next_at > ?', [$crawl, $now]);
        $rows = $this->database->fetchAllAssociative(
            "SELECT id, url, host, key_hash, role, depth, attempts, kind FROM crawl_page WHERE crawl_id = ? AND state = 'waiting' AND"
                .' (not_before IS NULL OR not_before <= ?) AND host NOT IN (?) ORDER BY depth, id LIMIT '
                .($pause > 0 ? 20 * self::HOSTS : $most).' FOR UPDATE SKIP LOCKED',
            [$crawl, $now, [...$resting, '-']], [2 => ArrayParameterType::STRING],
        );
        if (0 === $pause) {
            return $rows;
        }
        $ofHosts = [];
        foreach ($rows as $row) {
            if (\count($ofHosts) < min(self::HOSTS, $most)) {
                $ofHosts[\is_string($row['host']) ? $row['host'] : ''] ??= $row;
            }
        }

        return array_values($ofHosts);
    }

    /**
     * A host is left alone for a while.
     *
     * @param float $seconds for how long
     * @param bool $strained whether it asked for that, or failed
     */
    public function rest(int $crawl, string $host, float $seconds, bool $strained): void
    {
        $until = MomentType::text($this->clock->now()
            ->modify(\sprintf('+%d microseconds', (int) (1_000_000 * min(self::MOST_REST, $seconds)))));
        $this->database->executeStatement(
            <<<'SQL'
                INSERT INTO crawl_host (crawl_id, host, next_at, strain)
                VALUES (?, ?, ?, ?)
                ON DUPLICATE KEY UPDATE next_at = GREATEST(next_at, VALUES(next_at)),
                    strain = IF(VALUES(strain) = 0, strain, strain + 1)
                SQL,
            [$crawl, $host, $until, $strained ? 1 : 0],
        );
    }

    /** Puts back what a worker had taken when it was killed. */
    public function reclaim(int $slot): void
    {
        TransactionRetry::transaction($this->database, fn () => $this->database->executeStatement(
            <<<'SQL'
                UPDATE crawl_page
                SET state = IF(attempts >= ?, 'failed', 'waiting'), reason = IF(attempts >= ?, 'interrupted', NULL)
                WHERE slot_id = ? AND state = 'taken'
                SQL,
            [self::ATTEMPTS, self::ATTEMPTS, $slot],
        ));
    }

    /**
     * Enters addresses that pages lead to.
     *
     * @param list<FoundAddress> $found
     * @param array<string, true> $closed kinds of addresses that bring nothing new, as bytes
     *
     * @return array{list<string>, int} keys of those that were not known, as bytes, and how many lead to other hosts
     */
    public function add(int $crawl, array $found, Scope $scope, array $closed = []): array
    {
        $keys = $outside = [];
        foreach ($found as $one) {
            $keys[$one->keyHash] ??= $one;
        }
        foreach (array_chunk(array_keys($keys), 500) as $some) {
            foreach ($this->database->fetchFirstColumn(
                'SELECT key_hash FROM crawl_page WHERE crawl_id = ? AND key_hash IN (?)',
                [$crawl, array_map(\strval(...), $some)],
                [1 => ArrayParameterType::BINARY],
            ) as $known) {
                unset($keys[\is_string($known) ? $known : '']);
            }
        }
        $rows = [];
        foreach ($keys as $key => $one) {
            // Sitemaps may lie anywhere; what they name is looked at for itself.
            $ruling = 'map' === $one->role && $one->url->isWeb() ? Ruling::Taken : $scope->rules($one->url, $one->depth);
            if (Ruling::OtherHost === $ruling || Ruling::NotWeb === $ruling) {
                $outside[$key] = true;
                continue;
            }
            $kind = $one->kind();
            $ruling = Ruling::Taken === $ruling && null !== $kind && isset($closed[$kind]) ? Ruling::NothingNew : $ruling;
            $rows[] = [
                $crawl, (string) $key, (string) $one->url, substr((string) $one->url->host, 0, 255), $one->role, min(65_535, $one->depth),
                $one->via, $one->parent, $kind, Ruling::Taken === $ruling ? 'waiting' : 'left',
                Ruling::Taken === $ruling ? null : $ruling->value,
            ];
        }
        foreach (array_chunk($rows, 200) as $some) {
            // What a second worker enters in the same moment has the same key; whoever is nearer to the beginning counts.
            $this->database->executeStatement(
                'INSERT INTO crawl_page (crawl_id, key_hash, url, host, role, depth, via, parent_id, kind, state, reason) VALUES '
                    .implode(', ', array_fill(0, \count($some), '(?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)'))
                    .' ON DUPLICATE KEY UPDATE depth = LEAST(depth, VALUES(depth))',
                array_merge(...$some),
            );
        }

        return [array_map(static fn (array $row): string => $row[1], $rows), \count($outside)];
    }

    /**
     * @return array<string, true> kinds of addresses that bring nothing new, as bytes
     */
    public function closed(int $crawl): array
    {
        return array_fill_keys(
            array_map(
                static fn (mixed $kind): string => \is_string($kind) ? $kind : '',
                $this->database->fetchFirstColumn('SELECT kind FROM crawl_kind WHERE crawl_id = ? AND closed = 1', [$crawl]),
            ),
            true,
        );
    }

    /**
     * Takes note of what pages have shown, and closes kinds of addresses that are exhausted.
     *
     * @param list<PageResult> $pages
     */
    public function learn(int $crawl, array $pages): void
    {
        $ofKinds = [];
        foreach ($pages as $came) {
            if (null !== $came->page->kind && 200 === $came->main()?->status && [] !== $came->pieces) {
                $ofKinds[$came->page->kind][] = $came;
            }
        }
        if ([] === $ofKinds) {
            return;
        }
        ksort($ofKinds);
        $rows = [];
        foreach ($this->database->fetchAllAssociative(
            'SELECT kind, pages, idle, closed, seen FROM crawl_kind WHERE crawl_id = ? AND kind IN (?) ORDER BY kind FOR UPDATE',
            [$crawl, array_map(\strval(...), array_keys($ofKinds))],
            [1 => ArrayParameterType::BINARY],
        ) as $values) {
            $rows[(new Row($values))->text('kind')] = new Row($values);
        }
        foreach ($ofKinds as $kind => $some) {
            $row = $rows[$kind] ?? null;
            $novelty = new Novelty((string) Traps::kind($some[0]->page->url), $row?->text('seen') ?? '', $row?->int('idle') ?? 0);
            $exhausted = false;
            foreach ($some as $came) {
                $exhausted = $novelty->add($came->pieces, $came->leadsOn) || $exhausted;
            }
            // A kind that somebody opened again stays open.
            $closed = 2 === $row?->int('closed') ? 2 : ($exhausted || 1 === $row?->int('closed') ? 1 : 0);
            $this->database->executeStatement(
                <<<'SQL'
                    INSERT INTO crawl_kind (crawl_id, kind, name, pages, idle, closed, seen)
                    VALUES (?, ?, ?, ?, ?, ?, ?)
                    ON DUPLICATE KEY UPDATE pages = pages + VALUES(pages), idle = VALUES(idle), closed = VALUES(closed),
                        seen = VALUES(seen)
                    SQL,
                [
                    $crawl,
                    (string) $kind,
                    mb_scrub(mb_strcut((string) Traps::kind($some[0]->page->url), 0, 2_000)),
                    \count($some),
                    $novelty->idle,
                    $closed,
                    $novelty->state(),
                ],
            );
            if (1 === $closed && 1 !== $row?->int('closed')) {
                $this->database->executeStatement(
                    "UPDATE crawl_page SET state = 'left', reason = ? WHERE crawl_id = ? AND kind = ? AND state = 'waiting'",
                    [Ruling::NothingNew->value, $crawl, (string) $kind],
                );
            }
        }
    }

    /** A kind of addresses that was left as bringing nothing new is followed all the same. */
    public function reopen(int $crawl, string $kind): void
    {
        TransactionRetry::transaction($this->database, function () use ($crawl, $kind): void {
            $this->database->executeStatement(
                'UPDATE crawl_kind SET closed = 2, idle = 0 WHERE crawl_id = ? AND kind = ? AND closed = 1', [$crawl, $kind],
            );
            $this->database->executeStatement(
                "UPDATE crawl_page SET state = 'waiting', reason = NULL WHERE crawl_id = ? AND kind = ? AND state = 'left' AND reason = ?",
                [$crawl, $kind, Ruling::NothingNew->value],
            );
        });
    }

    /**
     * @param list<array<string, mixed>> $rows
     *
     * @return list<TakenPage>
     */
    private function pages(array $rows): array
    {
        $pages = [];
        foreach ($rows as $values) {
            $row = new Row($values);
            $pages[] = new TakenPage(
                $row->int('id'), Url::parse($row->text('url')), bin2hex($row->text('key_hash')), $row->text('role'), $row->int('depth'),
                $row->int('attempts') + 1, $row->textOrNull('kind'),
            );
        }

        return $pages;
    }

    /**
     * @param list<mixed> $parameters
     */
    private function number(string $sql, array $parameters): int
    {
        $value = $this->database->fetchOne($sql, $parameters);

        return is_numeric($value) ? (int) $value : 0;
    }
}
