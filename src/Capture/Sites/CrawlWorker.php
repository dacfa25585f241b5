<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Sites;

use Doctrine\DBAL\Connection;
use Doctrine\DBAL\Exception\ConnectionException;
use Doctrine\DBAL\Exception\RetryableException;
use Doctrine\ORM\EntityManagerInterface;
use Doctrine\Persistence\ManagerRegistry;
use Monolog\Attribute\WithMonologChannel;
use Psr\Clock\ClockInterface;
use Psr\Log\LoggerInterface;
use Symfony\Component\Messenger\Attribute\AsMessageHandler;
use Symfony\Component\Messenger\MessageBusInterface;
use Symfony\Component\Messenger\Stamp\DelayStamp;
use Ypomna\App\Capture\CaptureFailed;
use Ypomna\App\Capture\Entity\Crawl;
use Ypomna\App\Capture\Message\WorkOnCrawl;
use Ypomna\App\Capture\Sites\Value\FoundAddress;
use Ypomna\App\Capture\Sites\Value\GroupResult;
use Ypomna\App\Capture\Sites\Value\PageResult;
use Ypomna\App\Capture\Sites\Value\Pause;
use Ypomna\App\Capture\Sites\Value\SiteOptions;
use Ypomna\App\Capture\Sites\Value\TakenPage;
use Ypomna\App\Capture\Value\CaptureMode;
use Ypomna\App\Capture\Value\ListState;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\TransactionRetry;
use Ypomna\App\Shared\Type\MomentType;
use Ypomna\App\Store\MirroredLedger;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Fetch\StorageFull;

/**
 * Works at a site for a short while, then lets others have their turn. Several do so side by side.
 */
#[AsMessageHandler]
#[WithMonologChannel('capture')]
final class CrawlWorker
{
    /** How long a turn is, in seconds. */
    private const TURN = 15.0;
    /** How long it waits in its turn for something to do, in seconds. */
    private const PATIENCE = 2.5;
    private const SHORT_WAIT = 300;
    private const WAIT = 1_000;
    private const LATER = 30_000;

    private ?SiteMemory $memory = null;

    public function __construct(
        private readonly ManagerRegistry $registry,
        private readonly MessageBusInterface $bus,
        private readonly Frontier $frontier,
        private readonly Segments $segments,
        private readonly PlainSite $plain,
        private readonly RenderedSite $rendered,
        private readonly MirroredLedger $ledger,
        private readonly ClockInterface $clock,
        private readonly LoggerInterface $logger,
    ) {
    }

    public function __invoke(WorkOnCrawl $message): void
    {
        $this->manager()->clear();
        $slot = $this->database()->fetchAssociative('SELECT crawl_id, run, turn FROM crawl_slot WHERE id = ?', [$message->slotId]);
        $row = Row::of($slot);
        // The same turn may be delivered twice when a worker was killed at its very end.
        if (false === $slot || $row->int('turn') !== $message->turn) {
            return;
        }
        $crawl = $this->manager()->find(Crawl::class, $row->int('crawl_id'));
        if (null === $crawl) {
            return;
        }
        try {
            $rest = $this->turn($crawl, $message->slotId, $row->int('run'));
        } catch (CaptureFailed|StorageFull $e) {
            // It can go on when there is room again.
            $this->logger->error('A site’s pages cannot be written.', ['site' => $crawl->code, 'exception' => $e]);
            $this->halt($crawl, 'storage');
            $rest = Pause::Stopped;
        } catch (RetryableException|ConnectionException $e) {
            // The database broke it off for another one's sake, or was away: the next turn takes it up.
            $this->logger->warning('A turn at a site is begun again.', ['site' => $crawl->code, 'exception' => $e]);
            $rest = Pause::Pause;
        } catch (\Throwable $e) {
            // Nobody would come back to it by himself.
            $this->logger->error('Work at a site ended unexpectedly.', ['site' => $crawl->code, 'exception' => $e]);
            $this->halt($crawl, 'unexpected');
            $rest = Pause::Stopped;
        }
        try {
            $again = $this->after($crawl, $message->slotId, $rest);
        } catch (\Throwable $e) {
            // Files are put into the store step by step, and each step can be done again.
            $this->logger->error('The file of a site could not be put into the store.', ['site' => $crawl->code, 'exception' => $e]);
            $again = self::LATER;
        }
        TransactionRetry::transaction($this->database(), function () use ($message, $again): void {
            $this->database()->executeStatement('UPDATE crawl_slot SET turn = turn + 1 WHERE id = ?', [$message->slotId]);
            if (null !== $again) {
                $this->bus->dispatch(new WorkOnCrawl($message->slotId, $message->turn + 1), [new DelayStamp($again)]);
            }
        });
        $this->manager()->clear();
    }

    /** @return int|null milliseconds until the next turn; null if there is none */
    private function after(Crawl $crawl, int $slot, ?Pause $rest): ?int
    {
        if (Pause::Stopped === $rest) {
            $this->segments->closeAll($crawl, $slot);
        } elseif (null !== $rest && Pause::Others !== $rest && Pause::Pause !== $rest) {
            $this->end($crawl, $slot, $rest);
        }

        return match ($rest) {
            Pause::Others => self::SHORT_WAIT,
            Pause::Pause => self::WAIT,
            null => 0,
            default => null,
        };
    }

    /** @return Pause|null why there is nothing more to do; null if there is */
    private function turn(Crawl $crawl, int $slot, int $run): ?Pause
    {
        $this->frontier->reclaim($slot);
        $memory = $this->memory = true === $this->memory?->isOf((int) $crawl->id)
            ? $this->memory
            : new SiteMemory($this->database(), (int) $crawl->id);
        $until = microtime(true) + self::TURN;
        $segment = $idle = null;
        try {
            do {
                $pages = $this->frontier->take((int) $crawl->id, $slot, $run);
                if ($pages instanceof Pause) {
                    $idle ??= microtime(true);
                    if (\in_array($pages, [Pause::Pause, Pause::Others], true) && microtime(true) - $idle < self::PATIENCE
                        && microtime(true) < $until) {
                        // There will be something soon; to come back through the queue takes longer.
                        usleep(30_000);
                        continue;
                    }

                    return $pages;
                }
                $idle = null;
                $segment ??= $this->segments->open($crawl, $slot);
                if (null === $segment) {
                    return Pause::Others;
                }
                $memory = $this->each($crawl, $slot, $pages, $segment, $memory);
                if ($this->segments->isFull($segment)) {
                    $full = $segment;
                    $segment = null;
                    $this->segments->close($full, $crawl);
                }
            } while (microtime(true) < $until);

            return null;
        } finally {
            $segment?->close();
        }
    }

    /**
     * A page on which something breaks costs itself alone.
     *
     * @param list<TakenPage> $pages
     */
    private function each(Crawl $crawl, int $slot, array $pages, Segment $segment, SiteMemory $memory): SiteMemory
    {
        try {
            $this->group($crawl, $slot, $pages, $segment, $memory);
        } catch (CaptureFailed|StorageFull|RetryableException|ConnectionException $e) {
            throw $e;
        } catch (\Throwable $e) {
            $this->logger->error(
                'Pages of a site broke something.',
                [
                    'site' => $crawl->code,
                    'pages' => array_map(static fn (TakenPage $page): string => (string) $page->url, $pages),
                    'exception' => $e,
                ],
            );
            $memory = $this->memory = new SiteMemory($this->database(), (int) $crawl->id);
            foreach (1 === \count($pages) ? [] : $pages as $page) {
                $memory = $this->each($crawl, $slot, [$page], $segment, $memory);
            }
            if (1 === \count($pages)) {
                $this->database()->executeStatement(
                    "UPDATE crawl_page SET state = 'failed', reason = 'unexpected', message = ?, slot_id = NULL WHERE id = ?",
                    [mb_strimwidth(mb_scrub($e->getMessage()), 0, 400, '…'), $pages[0]->id],
                );
            }
        }

        return $memory;
    }

    /** @param list<TakenPage> $pages */
    private function group(Crawl $crawl, int $slot, array $pages, Segment $segment, SiteMemory $memory): void
    {
        [$before, $pagesBefore] = [$segment->file->bytes(), $segment->pages];
        try {
            $came = (CaptureMode::Rendered === $crawl->how ? $this->rendered : $this->plain)->capture(
                $crawl, $slot, $pages, $segment, $memory,
            );
            $segment->sync();
            $links = $this->links($came->pages, $memory);
            TransactionRetry::transaction($this->database(), fn () => $this->record($crawl, $came, $links, $segment, $memory));
        } catch (\Throwable $e) {
            $segment->backTo($before);
            $segment->pages = $pagesBefore;
            throw $e;
        }
        $memory->parts->commit();
        foreach ($links as $found) {
            $memory->note((string) $found->url);
        }
    }

    /**
     * @param list<PageResult> $pages
     *
     * @return list<FoundAddress>
     */
    private function links(array $pages, SiteMemory $memory): array
    {
        $found = [];
        foreach ($pages as $came) {
            $via = 'page' === $came->page->role ? 'link' : $came->page->role;
            $depth = 'page' === $came->page->role ? $came->page->depth + 1 : 1;
            foreach ($came->links as $link) {
                $this->find($found, $link, 'page', $depth, $via, $came, $memory);
            }
            foreach ($came->maps as $map) {
                $this->find($found, $map, 'map', $came->page->depth, $via, $came, $memory);
            }
            if (null !== $came->redirect) {
                $this->find($found, $came->redirect, $came->page->role, $came->page->depth, 'redirect', $came, $memory);
            }
        }

        return $found;
    }

    /** @param list<FoundAddress> $found */
    private function find(array &$found, string $link, string $role, int $depth, string $via, PageResult $came, SiteMemory $memory): void
    {
        $url = $memory->isNew($link) ? Url::tryParse($link) : null;
        if (null !== $url) {
            $found[] = new FoundAddress($url, $role, $depth, $via, $came->page->id);
        }
    }

    /** @param list<FoundAddress> $links */
    private function record(Crawl $crawl, GroupResult $came, array $links, Segment $segment, SiteMemory $memory): void
    {
        $id = (int) $crawl->id;
        $maps = $crawl->maps;
        // The row is taken first by everybody: whoever comes later waits, and nobody waits for each other.
        $row = Row::of($this->database()->fetchAssociative('SELECT seeds, pause FROM crawl WHERE id = ? FOR UPDATE', [$id]));
        $crawl->seeds = $this->seeds($row, $came->pages);
        [$new, $outside] = $this->frontier->add(
            $id,
            array_values(array_filter($links, static fn (FoundAddress $one): bool => $maps || 'page' === $one->role)),
            $crawl->scope(),
            $this->frontier->closed($id),
        );
        $new = array_fill_keys($new, true);
        $kinds = [];
        foreach ($came->pages as $page) {
            $kinds[$page->page->id] = $page;
        }
        foreach ($links as $one) {
            if (isset($new[$one->keyHash], $kinds[$one->parent ?? 0]) && $one->kind() !== $kinds[$one->parent ?? 0]->page->kind) {
                $kinds[$one->parent ?? 0]->leadsOn = true;
            }
        }
        $this->frontier->learn($id, $came->pages);
        $kept = $this->pages($came->pages, $id, $segment->id);
        $memory->parts->write();
        $this->database()->executeStatement(
            <<<'SQL'
                UPDATE crawl
                SET pages = pages + ?, parts = parts + ?, again = again + ?, bytes = bytes + ?, outside = outside + ?,
                    seeds = ?, pause = GREATEST(pause, ?)
                WHERE id = ?
                SQL,
            [
                $kept,
                $came->parts,
                $came->again,
                $came->bytes,
                $outside,
                json_encode($crawl->seeds, \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_SLASHES),
                (int) (1_000 * $came->delay),
                $id,
            ],
        );
        $this->segments->good($segment);
    }

    /**
     * Where a first page sends on to another host, the site is there.
     *
     * @param list<PageResult> $pages
     *
     * @return list<string>
     */
    private function seeds(Row $row, array $pages): array
    {
        $seeds = array_values(array_filter((array) json_decode($row->text('seeds'), true), \is_string(...)));
        foreach ($pages as $came) {
            if (0 === $came->page->depth && 'page' === $came->page->role && null !== $came->redirect
                && !\in_array($came->redirect, $seeds, true) && \count($seeds) < 2 * SiteOptions::MOST_SEEDS) {
                $seeds[] = $came->redirect;
            }
        }

        return $seeds;
    }

    /**
     * @param list<PageResult> $pages
     *
     * @return int how many pages were kept
     */
    private function pages(array $pages, int $crawl, int $segment): int
    {
        $kept = 0;
        $alike = [];
        foreach ($pages as $came) {
            $isAgain = null !== $came->again && $came->page->attempts < Frontier::ATTEMPTS;
            if ($isAgain) {
                $this->frontier->rest($crawl, substr((string) $came->page->url->host, 0, 255), (float) $came->again, true);
            }
            $state = match (true) {
                $isAgain => 'waiting',
                null !== $came->left => 'left',
                null !== $came->offset => 'kept',
                default => 'failed',
            };
            $kept += 'kept' === $state && 'page' === $came->page->role ? 1 : 0;
            $values = [
                $state, null === $came->left ? $came->reason : $came->left->value,
                null === $came->message ? null : mb_strimwidth($came->message, 0, 400, '…'), $came->status,
                'kept' === $state ? $came->verdict : null,
                $isAgain ? MomentType::text($this->clock->now()->modify('+'.$came->again.' seconds')) : null,
                null === $came->offset ? null : $segment,
            ];
            $alike[serialize($values)][$came->page->id] = $came->offset;
        }
        foreach ($alike as $values => $offsets) {
            // Pages of which there is the same to say are settled together.
            $where = implode(
                ' ',
                array_map(
                    static fn (int $id, ?int $offset): string => \sprintf('WHEN %d THEN %s', $id, $offset ?? 'NULL'),
                    array_keys($offsets),
                    $offsets,
                ),
            );
            /** @var list<mixed> $list */
            $list = unserialize($values, ['allowed_classes' => false]);
            $this->database()->executeStatement(
                'UPDATE crawl_page SET state = ?, reason = ?, message = ?, status = ?, verdict = ?, not_before = ?, segment_id = ?,'
                    .' slot_id = NULL, at_offset = CASE id '
                    .$where.' END WHERE id IN ('.implode(', ', array_keys($offsets)).')',
                $list,
            );
        }

        return $kept;
    }

    /** Whoever closes the last file ends the work. */
    private function end(Crawl $crawl, int $slot, Pause $why): void
    {
        $this->segments->closeAll($crawl, $slot);
        $now = $this->clock->now();
        $ended = $this->database()->executeStatement(
            <<<'SQL'
                UPDATE crawl
                SET state = ?, ended = ?, finished_at = ?,
                    seconds = seconds + GREATEST(0, TIMESTAMPDIFF(SECOND, running_since, ?)), running_since = NULL
                WHERE id = ? AND state = ?
                    AND NOT EXISTS (SELECT 1 FROM crawl_segment s WHERE s.crawl_id = crawl.id AND s.state = 'open')
                SQL,
            [ListState::Done->value, $why->value, MomentType::text($now), MomentType::text($now), $crawl->id, ListState::Running->value],
        );
        if (1 === (int) $ended) {
            $row = Row::of($this->database()->fetchAssociative('SELECT pages, parts, again, bytes FROM crawl WHERE id = ?', [$crawl->id]));
            $this->ledger->enter(
                'site.finished',
                $crawl->code,
                [
                    'ended' => $why->value, 'pages' => $row->int('pages'), 'parts' => $row->int('parts'), 'held' => $row->int('again'),
                    'bytes' => $row->int('bytes'), 'seeds' => \array_slice($crawl->seeds, 0, 20),
                ],
            );
        }
    }

    private function halt(Crawl $crawl, string $why): void
    {
        $this->database()->executeStatement(
            <<<'SQL'
                UPDATE crawl
                SET state = ?, ended = ?, seconds = seconds + GREATEST(0, TIMESTAMPDIFF(SECOND, running_since, ?)),
                    running_since = NULL
                WHERE id = ? AND state = ?
                SQL,
            [ListState::Paused->value, $why, MomentType::text($this->clock->now()), $crawl->id, ListState::Running->value],
        );
    }

    private function manager(): EntityManagerInterface
    {
        $manager = $this->registry->getManager();
        \assert($manager instanceof EntityManagerInterface);

        return $manager;
    }

    private function database(): Connection
    {
        return $this->manager()->getConnection();
    }
}
