<?php

declare(strict_types=1);

namespace Ypomna\App\Watch;

use Doctrine\DBAL\Connection;
use Doctrine\DBAL\LockMode;
use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Ypomna\App\Access\Gate;
use Ypomna\App\Access\Grants;
use Ypomna\App\Catalogue\AddressRepository;
use Ypomna\App\Catalogue\CaptureLists;
use Ypomna\App\Liveness\CheckQueue;
use Ypomna\App\References\ReferenceLists;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\AddressKeys;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\KnownPeople;
use Ypomna\App\Shared\NewestFirst;
use Ypomna\App\Shared\Type\MomentType;
use Ypomna\App\Shared\Viewer;
use Ypomna\App\Watch\Entity\Watch;
use Ypomna\App\Watch\Value\WatchScope;
use Ypomna\App\Watch\Value\WatchState;
use Ypomna\App\Watch\Value\WatchWish;
use Ypomna\Core\Address\Key;
use Ypomna\Core\Address\Url;

/** Takes the wish that pages be watched, and gathers them. */
final readonly class WatchRequests
{
    /** Pages of one watch. */
    public const MOST = 2_000;
    /** Captures from before that tell how often a page changes. */
    private const HISTORY = 200;
    /** Changes of less of the text are none. */
    private const LEAST_CHANGE = 0.002;
    private const GATHER_AGAIN = '1 hour';

    public function __construct(
        private EntityManagerInterface $entities,
        private Connection $database,
        private WatchedPages $pages,
        private CheckQueue $queue,
        private AddressRepository $addresses,
        private CaptureLists $lists,
        private ReferenceLists $references,
        private ClockInterface $clock,
        private Gate $gate,
        private Grants $grants,
        private NewestFirst $newest,
        private KnownPeople $people,
    ) {
    }

    public function begin(Actor $actor, Viewer $viewer, WatchWish $wish): Watch
    {
        $watch = new Watch(
            Codes::random(),
            $wish->scope,
            $wish->target,
            mb_strimwidth('' === trim($wish->name) ? $wish->target : trim($wish->name), 0, 190, '…'),
            bin2hex(random_bytes(24)),
            $actor->name,
            $this->clock->now(),
        );
        $this->set($watch, $wish);
        // A watch of what is held for some only would tell everybody that it is.
        $watch->limited = WatchScope::Address === $wish->scope
            && [] !== $this->addresses->confidential($viewer, [$wish->target]);
        $this->entities->wrapInTransaction(function () use ($watch): void {
            $this->entities->persist($watch);
            if ($watch->limited) {
                $this->grants->made([$watch->code], $watch->agent);
            }
        });
        $this->gather($watch);

        return $watch;
    }

    public function change(Watch $watch, WatchWish $wish): void
    {
        $this->set($watch, $wish);
        $this->save($watch);
    }

    public function save(Watch $watch): void
    {
        $this->entities->flush();
        if (null !== $watch->everyDays) {
            $this->database->executeStatement(
                <<<'SQL'
                    UPDATE watched_page
                    SET interval_days = ?, next_at = LEAST(next_at, COALESCE(checked_at, ?) + INTERVAL ? SECOND)
                    WHERE watch_id = ?
                    SQL,
                [$watch->everyDays, MomentType::text($this->clock->now()), (int) (86_400 * $watch->everyDays), $watch->id],
            );
        }
    }

    /**
     * Changes a watch as it stands now, while nobody else does.
     *
     * @param \Closure(Watch): void $change gets it as it stands now; what it throws changes nothing
     */
    public function exclusively(Watch $watch, \Closure $change): Watch
    {
        return $this->database->transactional(function () use ($watch, $change): Watch {
            $this->entities->detach($watch);
            $now = $this->entities->find(Watch::class, $watch->id, LockMode::PESSIMISTIC_WRITE) ?? $watch;
            $change($now);

            return $now;
        });
    }

    public function move(Watch $watch, WatchState $to): void
    {
        $watch->state = $to;
        $this->entities->flush();
    }

    public function byCode(Viewer $viewer, string $code): ?Watch
    {
        $watch = $this->entities->getRepository(Watch::class)->findOneBy(['code' => $code]);

        return null === $watch || !$this->grants->open($this->gate->sight($viewer), $watch->limited, $watch->code) ? null : $watch;
    }

    /** @return list<Watch> */
    public function newest(Viewer $viewer): array
    {
        $sight = $this->gate->sight($viewer);

        return $this->newest->of(Watch::class, $sight->dql('e.limited', 'e.code'), $sight->parameters());
    }

    /**
     * Watches by when they were begun, the newest first.
     *
     * @param int $before number of the one that was shown last; 0 at the beginning
     *
     * @return list<Watch>
     */
    public function before(Viewer $viewer, int $before, int $most): array
    {
        $sight = $this->gate->sight($viewer);

        return $this->newest->of(Watch::class, $sight->dql('e.limited', 'e.code'), $sight->parameters(), $most, $before);
    }

    /** With whose eyes a watch looks: what it tells is told to everybody, unless it is for some only. */
    public function eyes(Watch $watch): Viewer
    {
        return $watch->limited ? $this->people->viewer($watch->agent) : Viewer::nobody();
    }

    public function byId(int $id): ?Watch
    {
        return $this->entities->find(Watch::class, $id);
    }

    /** Folders, hosts and lists get new pages: they are watched as well. */
    public function gatherAgain(): void
    {
        $query = $this->entities->createQuery(\sprintf(
            'SELECT w FROM %s w WHERE w.state = :running AND w.scope <> :address AND (w.gatheredAt IS NULL OR w.gatheredAt < :before)',
            Watch::class,
        ));
        $query->setParameter('running', WatchState::Running->value)->setParameter('address', WatchScope::Address->value)->setParameter(
            'before', $this->clock->now()->modify('-'.self::GATHER_AGAIN), 'moment',
        );
        $found = $query->setMaxResults(20)->getResult();
        foreach (\is_array($found) ? $found : [] as $watch) {
            if ($watch instanceof Watch) {
                $this->gather($watch);
            }
        }
    }

    public function gather(Watch $watch): void
    {
        $viewer = $this->eyes($watch);
        $urls = $this->urls($viewer, $watch);
        $ids = $this->queue->ids($viewer, $urls);
        $this->pages->add(
            $watch,
            array_values($ids),
            array_map(fn (int|string $url): array => $this->history($viewer, (string) $url), array_keys($ids)),
            $this->clock->now(),
        );
        $watch->gatheredAt = $this->clock->now();
        $this->entities->flush();
    }

    /**
     * What captures from before tell: days between two of them, and whether the page had changed.
     *
     * @return list<array{float, int}> oldest first
     */
    public function history(Viewer $viewer, string $url): array
    {
        $seen = [];
        $before = null;
        foreach (array_reverse($this->lists->changes($viewer, $url, self::HISTORY)) as [$moment, $changed]) {
            $at = (float) $moment->format('U.u');
            if (null !== $before && null !== $changed && $at - $before > 60) {
                $seen[] = [round(($at - $before) / 86_400, 4), $changed > self::LEAST_CHANGE ? 1 : 0];
            }
            $before = $at;
        }

        return $seen;
    }

    /**
     * @return list<Url>
     */
    private function urls(Viewer $viewer, Watch $watch): array
    {
        if (WatchScope::References === $watch->scope) {
            $list = $this->references->byCode($watch->target);
            $urls = null === $list
                ? []
                : array_map(static fn ($row): string => $row->url, $this->references->rows($viewer, $list, '', 0, self::MOST));
        } elseif (WatchScope::Address === $watch->scope) {
            $urls = [$watch->target];
        } else {
            $url = Url::parse($watch->target);
            $from = WatchScope::Host === $watch->scope
                ? rtrim(Key::hostPrefix($url), ' ').' '
                : Key::folderPrefix($url, AddressKeys::rules());
            $urls = $this->addresses->urls($viewer, $from, $from."\xFF", self::MOST, true);
            array_unshift($urls, $watch->target);
        }
        $once = [];
        foreach ($urls as $one) {
            $parsed = Url::tryParse($one)?->withoutUserinfo()->withoutFragment();
            if (null !== $parsed && $parsed->isWeb()) {
                $once[(string) $parsed] = $parsed;
            }
        }

        return array_values(\array_slice($once, 0, self::MOST));
    }

    private function set(Watch $watch, WatchWish $wish): void
    {
        $watch->name = '' === trim($wish->name) ? $watch->name : mb_strimwidth(trim($wish->name), 0, 190, '…');
        [$watch->conditionKind, $watch->conditionText, $watch->conditionColumn] = [
            $wish->condition->kind, $wish->condition->text, $wish->condition->column,
        ];
        [
            $watch->everyDays, $watch->keeps, $watch->mails, $watch->hookUrl, $watch->dueAt, $watch->dueNote,
        ] = [$wish->everyDays, $wish->keeps, $wish->mails, $wish->hookUrl, $wish->dueAt, $wish->dueNote];
    }
}
