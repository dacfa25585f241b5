<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Sites;

use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Psr\EventDispatcher\EventDispatcherInterface;
use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Symfony\Component\Messenger\MessageBusInterface;
use Ypomna\App\Access\Gate;
use Ypomna\App\Access\Grants;
use Ypomna\App\Capture\Entity\Crawl;
use Ypomna\App\Capture\Event\BroughtIn;
use Ypomna\App\Capture\Message\WorkOnCrawl;
use Ypomna\App\Capture\Sites\Value\FoundAddress;
use Ypomna\App\Capture\Sites\Value\SiteOptions;
use Ypomna\App\Capture\Value\ListState;
use Ypomna\App\Catalogue\CaptureLists;
use Ypomna\App\Catalogue\FileRepository;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\NewestFirst;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\TransactionRetry;
use Ypomna\App\Shared\Type\MomentType;
use Ypomna\App\Shared\Viewer;
use Ypomna\App\Store\MirroredLedger;
use Ypomna\Core\Address\AddressPattern;
use Ypomna\Core\Address\Url;

/** Takes the wish that a whole site be kept, and tells how far it has come. */
final readonly class Crawls
{
    private const SHOWN = 100;

    public function __construct(
        private EntityManagerInterface $entities,
        private Connection $database,
        private MessageBusInterface $bus,
        private Frontier $frontier,
        private CaptureLists $captures,
        private FileRepository $files,
        private MirroredLedger $ledger,
        private ClockInterface $clock,
        private Gate $gate,
        private Grants $grants,
        private NewestFirst $newest,
        private EventDispatcherInterface $events,
        #[Autowire('%env(int:YPOMNA_WORKERS)%')] private int $workers,
    ) {
    }

    public function begin(Actor $actor, SiteOptions $wish): Crawl
    {
        $now = $this->clock->now();
        $name = '' === $wish->name ? (string) Url::parse($wish->seeds[0])->host : $wish->name;
        $lines = static fn (AddressPattern $pattern): string => (string) $pattern;
        $crawl = new Crawl(
            Codes::random(), mb_strimwidth($name, 0, 190, '…'), $wish->seeds,
            [
                'reach' => $wish->reach->value, 'depth' => $wish->depth, 'includes' => array_map($lines, $wish->includes),
                'excludes' => array_map($lines, $wish->excludes),
            ],
            $wish->how, null === $wish->overruled, $wish->overruled, $wish->pause, $wish->maps, $wish->pages, $wish->bytes, $wish->seconds,
            $actor->name, $now,
        );
        $crawl->runningSince = $now;
        $crawl->limited = $wish->confidential;
        $this->entities->wrapInTransaction(function () use ($crawl): void {
            $this->entities->persist($crawl);
            $this->entities->flush();
            if ($crawl->limited) {
                $this->grants->made([$crawl->code], $crawl->agent);
            }
            $found = [];
            foreach ($crawl->seeds as $seed) {
                $url = Url::parse($seed);
                $found[] = new FoundAddress($url, 'page', 0, 'seed');
                if ($crawl->maps) {
                    $found[] = new FoundAddress(Url::parse($url->origin().'/sitemap.xml'), 'map', 0, 'map');
                }
            }
            $this->frontier->add((int) $crawl->id, $found, $crawl->scope());
            $this->send($crawl);
        });
        $this->ledger->enter(
            'site.begun',
            $crawl->code,
            [
                'seeds' => \array_slice($crawl->seeds, 0, 20), 'scope' => $crawl->scope, 'pages' => $crawl->mostPages,
                'bytes' => $crawl->mostBytes, 'seconds' => $crawl->mostSeconds, 'how' => $crawl->how->value,
                'robots' => $crawl->overruled ?? 'obey', 'agent' => $crawl->agent,
            ],
        );

        $this->events->dispatch(new BroughtIn(
            $crawl->agent, 'site:'.$crawl->code, $crawl->name, url: $crawl->seeds[0] ?? null, confidential: $crawl->limited,
        ));

        return $crawl;
    }

    public function byCode(Viewer $viewer, string $code): ?Crawl
    {
        $crawl = $this->entities->getRepository(Crawl::class)->findOneBy(['code' => $code]);

        return null === $crawl || !$this->grants->open($this->gate->sight($viewer), $crawl->limited, $crawl->code) ? null : $crawl;
    }

    /** @return list<Crawl> */
    public function newest(Viewer $viewer): array
    {
        $sight = $this->gate->sight($viewer);

        return $this->newest->of(Crawl::class, $sight->dql('e.limited', 'e.code'), $sight->parameters());
    }

    public function pause(Crawl $crawl): void
    {
        $this->stop($crawl, ListState::Paused);
    }

    /** What has not begun is not begun any more; what was kept stays. */
    public function cancel(Crawl $crawl): void
    {
        $this->stop($crawl, ListState::Cancelled);
    }

    /**
     * Goes on after a pause; and after its end, if there is more to be had than its budget allowed.
     *
     * @param int $more pages, beside those so far; bytes and time in the same measure
     */
    public function goOn(Crawl $crawl, int $more = 0): void
    {
        TransactionRetry::transaction($this->database, function () use ($crawl, $more): void {
            $share = $crawl->mostPages > 0 ? $more / $crawl->mostPages : 0;
            $moved = $this->database->executeStatement(
                <<<'SQL'
                    UPDATE crawl
                    SET state = ?, ended = NULL, finished_at = NULL, run = run + 1, running_since = ?,
                        most_pages = LEAST(4000000000, most_pages + ?), most_bytes = most_bytes + CEIL(? * most_bytes),
                        most_seconds = LEAST(4000000000, most_seconds + CEIL(? * most_seconds))
                    WHERE id = ? AND state IN (?, ?)
                    SQL,
                [
                    ListState::Running->value,
                    MomentType::text($this->clock->now()),
                    $more,
                    $share,
                    $share,
                    $crawl->id,
                    ListState::Paused->value,
                    $more > 0 ? ListState::Done->value : ListState::Paused->value,
                ],
            );
            if (1 === (int) $moved) {
                $this->send($crawl);
            }
        });
    }

    /** A kind of addresses that was left as a trap is followed all the same. */
    public function reopen(Crawl $crawl, string $kind): void
    {
        $this->frontier->reopen((int) $crawl->id, $kind);
        if (ListState::Done === $crawl->state) {
            $this->goOn($crawl, 1);
        }
    }

    /**
     * How many pages are where.
     *
     * @return array{waiting: int, taken: int, kept: int, whole: int, gaps: int, poor: int, failed: int, left: int}
     */
    public function counts(Viewer $viewer, Crawl $crawl): array
    {
        $counts = ['waiting' => 0, 'taken' => 0, 'kept' => 0, 'whole' => 0, 'gaps' => 0, 'poor' => 0, 'failed' => 0, 'left' => 0];
        foreach ($this->database->fetchAllAssociative(
            "SELECT state, verdict, COUNT(*) AS pages FROM crawl_page WHERE crawl_id = ? AND role = 'page'".$this->seen($viewer)
                .' GROUP BY state, verdict',
            [$crawl->id],
        ) as $values) {
            $row = new Row($values);
            $pages = $row->int('pages');
            match ($row->text('state')) {
                'waiting' => $counts['waiting'] += $pages,
                'taken' => $counts['taken'] += $pages,
                'failed' => $counts['failed'] += $pages,
                'left' => $counts['left'] += $pages,
                default => $counts['kept'] += $pages,
            };
            match ('kept' === $row->text('state') ? $row->textOrNull('verdict') : null) {
                'whole' => $counts['whole'] += $pages,
                'gaps' => $counts['gaps'] += $pages,
                'failed' => $counts['poor'] += $pages,
                default => null,
            };
        }

        return $counts;
    }

    /**
     * Why pages were left out or could not be had, and how often.
     *
     * @return list<array{state: string, reason: string, pages: int, example: string}>
     */
    public function reasons(Crawl $crawl): array
    {
        return array_map(static function (array $values): array {
            $row = new Row($values);

            return [
                'state' => $row->text('state'), 'reason' => $row->textOrNull('reason') ?? '', 'pages' => $row->int('pages'),
                'example' => $row->text('example'),
            ];
        }, $this->database->fetchAllAssociative(
            <<<'SQL'
                SELECT g.state, g.reason, g.pages, p.url AS example
                FROM (
                    SELECT state, reason, COUNT(*) AS pages, MIN(id) AS first
                    FROM crawl_page
                    WHERE crawl_id = ? AND state IN ('left', 'failed')
                    GROUP BY state, reason
                ) g
                JOIN crawl_page p ON p.id = g.first
                ORDER BY g.state, g.pages DESC
                SQL,
            [$crawl->id],
        ));
    }

    /**
     * Kinds of addresses that brought nothing new.
     *
     * @return list<array{kind: string, name: string, pages: int, left: int, open: bool}> the kind in hex
     */
    public function traps(Crawl $crawl): array
    {
        return array_map(static function (array $values): array {
            $row = new Row($values);

            return [
                'kind' => bin2hex($row->text('kind')), 'name' => $row->text('name'), 'pages' => $row->int('pages'),
                'left' => $row->int('left_out'), 'open' => 2 === $row->int('closed'),
            ];
        }, $this->database->fetchAllAssociative(
            <<<'SQL'
                SELECT k.kind, k.name, k.pages, k.closed, (
                    SELECT COUNT(*)
                    FROM crawl_page p
                    WHERE p.crawl_id = k.crawl_id AND p.kind = k.kind AND p.state = 'left'
                ) AS left_out
                FROM crawl_kind k
                WHERE k.crawl_id = ? AND k.closed > 0
                ORDER BY k.pages DESC
                LIMIT 100
                SQL,
            [$crawl->id],
        ));
    }

    /**
     * The pages, in the order in which they were found.
     *
     * @param string $state `kept`, `gaps`, `failed`, `left`, `waiting`; all others for every page
     * @param int $after number of the page that was shown last
     *
     * @return list<array{
     *     id: int, url: string, depth: int, via: string, state: string, reason: string|null, message: string|null, status: int|null,
     *     verdict: string|null, capture: string|null, from: string|null,
     * }>
     */
    public function pages(Viewer $viewer, Crawl $crawl, string $state = '', int $after = 0, int $most = self::SHOWN): array
    {
        $which = match ($state) {
            'kept', 'failed', 'left', 'waiting' => ' AND p.state = '.$this->database->quote($state),
            'gaps' => " AND p.state = 'kept' AND p.verdict <> 'whole'",
            default => '',
        };

        $rows = array_map(static fn (array $values): Row => new Row($values), $this->database->fetchAllAssociative(
            \sprintf(<<<'SQL'
                SELECT p.id, p.url, p.depth, p.via, p.state, p.reason, p.message,
                    p.status, p.verdict, p.at_offset, s.file_id, q.url AS parent
                FROM crawl_page p LEFT JOIN crawl_page q ON q.id = p.parent_id%s LEFT JOIN crawl_segment s ON s.id = p.segment_id
                WHERE p.crawl_id = ? AND p.role = 'page' AND p.id > ?
                SQL, $this->seen($viewer, 'q.')).$this->seen($viewer, 'p.').$which.' ORDER BY p.id LIMIT '.$most,
            [$crawl->id, $after],
        ));
        $places = [];
        foreach ($rows as $n => $row) {
            if (null !== $row->intOrNull('file_id') && null !== $row->intOrNull('at_offset')) {
                $places[$n] = [$row->int('file_id'), $row->int('at_offset')];
            }
        }
        $codes = $this->captures->codesAt($viewer, $places);

        return array_map(static fn (Row $row, int $n): array => [
            'id' => $row->int('id'), 'url' => $row->text('url'), 'depth' => $row->int('depth'), 'via' => $row->text('via'),
            'state' => $row->text('state'), 'reason' => $row->textOrNull('reason'), 'message' => $row->textOrNull('message'),
            'status' => $row->intOrNull('status'), 'verdict' => $row->textOrNull('verdict'), 'capture' => $codes[$n] ?? null,
            'from' => $row->textOrNull('parent'),
        ], $rows, array_keys($rows));
    }

    /**
     * The files that were made.
     *
     * @return list<array{path: string, bytes: int, pages: int, stored: bool, sha256: string|null}>
     */
    public function files(Crawl $crawl): array
    {
        $rows = array_map(
            static fn (array $values): Row => new Row($values),
            $this->database->fetchAllAssociative(
                'SELECT path, bytes, pages, state, file_id FROM crawl_segment WHERE crawl_id = ? ORDER BY id LIMIT 1000', [$crawl->id],
            ),
        );
        $files = $this->files->byIds(array_values(array_filter(
            array_map(static fn (Row $row): ?int => $row->intOrNull('file_id'), $rows), is_int(...),
        )));

        return array_map(static function (Row $row) use ($files): array {
            $file = $files[$row->intOrNull('file_id') ?? 0] ?? null;

            return [
                'path' => $row->text('path'), 'bytes' => $file->bytes ?? $row->int('bytes'), 'pages' => $row->int('pages'),
                'stored' => 'stored' === $row->text('state'), 'sha256' => $file?->sha256,
            ];
        }, $rows);
    }

    /** For how long it has run, in seconds. */
    public function ran(Crawl $crawl): int
    {
        return $crawl->ran($this->clock->now());
    }

    private function stop(Crawl $crawl, ListState $to): void
    {
        $now = MomentType::text($this->clock->now());
        $moved = $this->database->executeStatement(
            <<<'SQL'
                UPDATE crawl
                SET state = ?,
                    seconds = seconds + IF(running_since IS NULL, 0, GREATEST(0, TIMESTAMPDIFF(SECOND, running_since, ?))),
                    running_since = NULL, finished_at = ?
                WHERE id = ? AND state IN (?, ?)
                SQL,
            [$to->value, $now, ListState::Cancelled === $to ? $now : null, $crawl->id, ListState::Running->value, ListState::Paused->value],
        );
        $crawl->state = 1 === (int) $moved ? $to : $crawl->state;
    }

    private function send(Crawl $crawl): void
    {
        $run = Row::of($this->database->fetchAssociative('SELECT run FROM crawl WHERE id = ?', [$crawl->id]));
        for ($n = 0; $n < max(1, $this->workers); ++$n) {
            $this->database->insert('crawl_slot', ['crawl_id' => $crawl->id, 'run' => $run->int('run'), 'turn' => 0]);
            $this->bus->dispatch(new WorkOnCrawl((int) $this->database->lastInsertId(), 0));
        }
    }

    /**
     * Pages whose captures were limited to some afterwards are told to nobody but who sees everything: their own captures lead there.
     * Where the whole site is, whoever sees that sees its pages.
     *
     * @param string $alias of pages, with its full stop
     *
     * @return string a condition, beginning with AND
     */
    private function seen(Viewer $viewer, string $alias = ''): string
    {
        return $this->gate->sight($viewer)->isWhole() ? '' : ' AND '.$alias.'limited = 0';
    }
}
