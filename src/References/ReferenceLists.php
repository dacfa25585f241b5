<?php

declare(strict_types=1);

namespace Ypomna\App\References;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\Messenger\MessageBusInterface;
use Ypomna\App\Capture\Entity\CaptureList;
use Ypomna\App\Capture\Lists\PageLists;
use Ypomna\App\Capture\Value\CaptureMode;
use Ypomna\App\Catalogue\CaptureLists;
use Ypomna\App\Catalogue\Event\CapturesLimited;
use Ypomna\App\Liveness\CheckQueue;
use Ypomna\App\Liveness\LiveSql;
use Ypomna\App\References\Entity\ReferenceList;
use Ypomna\App\References\Message\MatchReferences;
use Ypomna\App\References\Value\ReferenceRow;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\NewestFirst;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Type\MomentType;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Citation\DraftFormat;
use Ypomna\Core\Citation\DraftReferences;
use Ypomna\Core\Citation\Reference;
use Ypomna\Core\Citation\UnreadableDraft;

/** Takes documents in for the sake of their references, and tells how those stand. */
final readonly class ReferenceLists
{
    public const PAGE = 100;
    private const AT_ONCE = 200;
    /** What was checked so lately need not be asked again, in minutes. */
    private const FRESH = 10;
    private const FIELDS = 'r.id, r.position, r.url, r.note, r.label, r.context, r.claim, r.accessed, r.capture_code, r.fit,'
        .' r.elsewhere, r.repair_to, r.repair_day, r.place, '
        .LiveSql::FIELDS;

    public function __construct(
        private EntityManagerInterface $entities,
        private Connection $database,
        private DraftStorage $drafts,
        private CheckQueue $queue,
        private CaptureLists $captures,
        private PageLists $lists,
        private MessageBusInterface $bus,
        private ClockInterface $clock,
        private NewestFirst $newest,
    ) {
    }

    /**
     * @param string $path of the file that was handed in
     *
     * @throws UnreadableDraft
     */
    public function begin(Actor $actor, string $path, string $fileName): ReferenceList
    {
        $format = DraftFormat::of((string) file_get_contents($path, false, null, 0, 65_536), $fileName);
        $found = DraftReferences::of($this->drafts->open($path, $format));
        if ([] === $found->all) {
            throw new UnreadableDraft(
                'There is no web address in it. Addresses that begin with http://, https:// or www. are found, and what is linked.',
            );
        }
        $name = '' === trim($fileName) ? \sprintf('%d references', \count($found->all)) : trim($fileName);
        $list = new ReferenceList(
            Codes::random(), mb_strimwidth(mb_scrub($name), 0, 190, '…'), $format, mb_strimwidth(mb_scrub($fileName), 0, 190, '…'),
            (int) filesize($path), (string) hash_file('sha256', $path), $found->isCut, $actor->name, $this->clock->now(),
        );
        $this->drafts->keep($path, $list->code);
        try {
            $ids = $this->queue->ids(
                Viewer::nobody(), array_map(static fn (Reference $one): \Ypomna\Core\Address\Url => $one->url, $found->all),
            );
            $this->entities->wrapInTransaction(function () use ($list, $found, $ids): void {
                $this->entities->persist($list);
                $this->entities->flush();
                $this->enter((int) $list->id, $found, $ids);
            });
        } catch (\Throwable $e) {
            $this->drafts->remove($list->code);
            throw $e;
        }
        $this->ask($list, false);

        return $list;
    }

    /**
     * The one that was handed in last first.
     *
     * @param int $before number of the one that was shown last; 0 at the beginning
     *
     * @return list<ReferenceList>
     */
    public function before(int $before, int $most): array
    {
        return $this->newest->of(ReferenceList::class, most: $most, before: $before);
    }

    public function byCode(string $code): ?ReferenceList
    {
        return $this->entities->getRepository(ReferenceList::class)->findOneBy(['code' => $code]);
    }

    /**
     * Has its addresses checked, and captures looked for that its references mean.
     *
     * @param bool $all those as well that were checked just now
     */
    public function ask(ReferenceList $list, bool $all = true): void
    {
        $list->askedAt = $this->clock->now();
        $list->matchedAt = null;
        $this->entities->flush();
        $fresh = MomentType::text($this->clock->now()->modify('-'.self::FRESH.' minutes'));
        $ids = $this->database->fetchFirstColumn(
            'SELECT DISTINCT r.live_id FROM reference r'.LiveSql::join('r.live_id').' WHERE r.list_id = ?'
                .($all ? '' : ' AND ('.LiveSql::CHECKED_AT.' IS NULL OR '.LiveSql::CHECKED_AT.' < ?)').' ORDER BY r.position',
            $all ? [$list->id] : [$list->id, $fresh],
        );
        $this->queue->want(array_map(static fn (mixed $id): int => is_numeric($id) ? (int) $id : 0, $ids));
        $this->bus->dispatch(new MatchReferences((int) $list->id));
    }

    /** What has not begun is not begun any more. */
    public function stop(ReferenceList $list): void
    {
        $this->queue->unwant(array_map(
            static fn (mixed $id): int => is_numeric($id) ? (int) $id : 0,
            $this->database->fetchFirstColumn(
                'SELECT DISTINCT r.live_id FROM reference r'.LiveSql::join('r.live_id').' WHERE r.list_id = ? AND '.LiveSql::IS_QUEUED,
                [$list->id],
            ),
        ));
    }

    public function askElsewhere(ReferenceList $list): void
    {
        $list->elsewhereAt = $this->clock->now();
        $list->matchedAt = null;
        $this->entities->flush();
        $this->bus->dispatch(new MatchReferences((int) $list->id, 0, true));
    }

    /** @return CaptureList|null null if none of them is there now */
    public function keepAlive(Actor $actor, ReferenceList $list): ?CaptureList
    {
        $urls = array_values(array_filter(
            $this->database->fetchFirstColumn(
                'SELECT DISTINCT '.LiveSql::URL.' FROM reference r'.LiveSql::join('r.live_id').' WHERE r.list_id = ? AND '
                    .LiveSql::IS_THERE,
                [$list->id],
            ),
            \is_string(...),
        ));

        return [] === $urls ? null : $this->lists->begin($actor, $list->name, $urls, CaptureMode::Rendered, null);
    }

    /**
     * How many references stand how.
     *
     * @return array{
     *     all: int, open: int, alive: int, moved: int, changed: int, vanished: int, not-seen: int, blocked: int, unreachable: int,
     *     unknown: int, unheld: int, there: int,
     * }
     */
    public function counts(ReferenceList $list): array
    {
        return $this->countsOf([(int) $list->id])[(int) $list->id];
    }

    /**
     * The same of several lists.
     *
     * @param list<int> $ids
     *
     * @return array<int, array{
     *     all: int, open: int, alive: int, moved: int, changed: int, vanished: int, not-seen: int, blocked: int, unreachable: int,
     *     unknown: int, unheld: int, there: int,
     * }>
     */
    public function countsOf(array $ids): array
    {
        $rows = array_fill_keys($ids, []);
        foreach ([] === $ids ? [] : $this->database->fetchAllAssociative(
            'SELECT r.list_id, '.LiveSql::WORD.' AS word, COUNT(*) AS n, SUM('.LiveSql::IS_QUEUED
                .') AS open, SUM(r.capture_code IS NULL) AS unheld'
            .' FROM reference r'.LiveSql::join('r.live_id').' WHERE r.list_id IN (?) GROUP BY r.list_id, word',
            [$ids],
            [ArrayParameterType::INTEGER],
        ) as $values) {
            $row = new Row($values);
            $rows[$row->int('list_id')][$row->text('word')] = [$row->int('n'), $row->int('open'), $row->int('unheld')];
        }
        $counts = [];
        foreach ($rows as $list => $words) {
            $of = static fn (string ...$names): int => array_sum(array_map(static fn (string $name): int => $words[$name][0] ?? 0, $names));
            $counts[$list] = [
                'all' => array_sum(array_column($words, 0)), 'open' => array_sum(array_column($words, 1)), 'alive' => $of('alive'),
                'moved' => $of('moved'), 'changed' => $of('changed'), 'vanished' => $of('vanished'), 'not-seen' => $of('not-seen'),
                'blocked' => $of('blocked'), 'unreachable' => $of('unreachable'), 'unknown' => $of('unknown'),
                'unheld' => array_sum(array_column($words, 2)), 'there' => $of('alive', 'moved', 'changed'),
            ];
        }

        return $counts;
    }

    /**
     * @param string $word a verdict as screens call it, `unheld` for what no capture is held of, `repaired` for what is led elsewhere; ''
     *     for all
     * @param int $after position of the reference that was shown last
     *
     * @return list<ReferenceRow>
     */
    public function rows(Viewer $viewer, ReferenceList $list, string $word = '', int $after = 0, int $most = self::PAGE): array
    {
        $which = match ($word) {
            'unheld' => 'r.capture_code IS NULL',
            'repaired' => 'r.repair_to IS NOT NULL',
            default => LiveSql::is($word),
        };
        $rows = $this->database->fetchAllAssociative(
            'SELECT '.self::FIELDS.' FROM reference r'.LiveSql::join('r.live_id').' WHERE r.list_id = ? AND r.position > ?'
            .(null === $which ? '' : ' AND '.$which).' ORDER BY r.position LIMIT '.max(1, $most),
            [$list->id, $after],
        );
        $captures = $this->captures->facts($viewer, array_values(array_filter(array_column($rows, 'capture_code'), \is_string(...))));

        return array_map(
            static fn (array $row): ReferenceRow => ReferenceRow::of(
                $row, $captures[\is_string($row['capture_code']) ? $row['capture_code'] : ''] ?? null,
            ),
            $rows,
        );
    }

    /**
     * Writes down which references are led where.
     *
     * @param array<int, array{string, string}> $choices permanent address and day, by number of the reference
     */
    public function chooseRepairs(ReferenceList $list, array $choices): void
    {
        $this->database->transactional(function () use ($list, $choices): void {
            $this->database->executeStatement('UPDATE reference SET repair_to = NULL, repair_day = NULL WHERE list_id = ?', [$list->id]);
            foreach ($choices as $id => [$to, $day]) {
                $this->database->executeStatement(
                    'UPDATE reference SET repair_to = ?, repair_day = ? WHERE id = ? AND list_id = ?', [$to, $day, $id, $list->id],
                );
            }
        });
        $list->repairedAt = $this->clock->now();
        $this->entities->flush();
    }

    /** The list goes, with the document; addresses and looks at them stay. */
    public function remove(ReferenceList $list): void
    {
        $this->stop($list);
        $this->database->executeStatement('DELETE FROM reference WHERE list_id = ?', [$list->id]);
        $this->drafts->remove($list->code);
        $this->entities->remove($list);
        $this->entities->flush();
    }

    /** @param array<string, int> $ids */
    private function enter(int $list, DraftReferences $found, array $ids): void
    {
        $json = static fn (mixed $value): string => json_encode(
            $value, \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_SLASHES | \JSON_UNESCAPED_UNICODE | \JSON_INVALID_UTF8_SUBSTITUTE,
        );
        foreach (array_chunk($found->all, self::AT_ONCE) as $some) {
            $values = [];
            foreach ($some as $one) {
                array_push(
                    $values, $list, $one->position, $ids[(string) $one->url->withoutUserinfo()->withoutFragment()],
                    (string) $one->url->withoutUserinfo(), null === $one->note ? null : mb_strimwidth(mb_scrub($one->note), 0, 40),
                    $one->label, $one->context, $one->claim, $one->accessed, $json($one->quotes), $json($one->place),
                );
            }
            $this->database->executeStatement(
                'INSERT INTO reference (list_id, position, live_id, url, note, label, context, claim, accessed, quotes, place) VALUES '
                    .implode(', ', array_fill(0, \count($some), '(?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)')),
                $values,
            );
        }
    }

    /**
     * References mean captures that everybody may see: a repaired document goes out to anybody. Of those that became limited to some
     * another one is looked for.
     */
    #[AsEventListener]
    public function onCapturesLimited(CapturesLimited $event): void
    {
        $types = [ArrayParameterType::STRING, ArrayParameterType::STRING];
        $lists = !$event->limited ? [] : $this->database->fetchFirstColumn(
            'SELECT DISTINCT list_id FROM reference WHERE capture_code IN (?) OR latest_code IN (?)',
            [$event->codes, $event->codes],
            $types,
        );
        if ([] === $lists) {
            return;
        }
        $this->database->executeStatement(
            <<<'SQL'
                UPDATE reference
                SET capture_code = NULL, latest_code = NULL, fit = NULL, repair_to = NULL, repair_day = NULL, matched_at = NULL
                WHERE capture_code IN (?) OR latest_code IN (?)
                SQL,
            [$event->codes, $event->codes],
            $types,
        );
        foreach ($lists as $list) {
            $this->bus->dispatch(new MatchReferences(is_numeric($list) ? (int) $list : 0));
        }
    }
}
