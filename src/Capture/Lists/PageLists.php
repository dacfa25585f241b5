<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Lists;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Psr\EventDispatcher\EventDispatcherInterface;
use Symfony\Component\Messenger\Attribute\AsMessageHandler;
use Symfony\Component\Messenger\MessageBusInterface;
use Symfony\Component\Messenger\Stamp\DelayStamp;
use Ypomna\App\Access\Gate;
use Ypomna\App\Access\Grants;
use Ypomna\App\Capture\Entity\CaptureJob;
use Ypomna\App\Capture\Entity\CaptureList;
use Ypomna\App\Capture\Event\BroughtIn;
use Ypomna\App\Capture\Message\CapturePage;
use Ypomna\App\Capture\Message\WorkOnList;
use Ypomna\App\Capture\Value\CaptureMode;
use Ypomna\App\Capture\Value\CaptureStage;
use Ypomna\App\Capture\Value\ListState;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\AddressKeys;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\NewestFirst;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Type\MomentType;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Address\Url;

/**
 * Keeps the pages of a list, politely: one at a time of each host, with a pause between them, and later where a server asks
 * for it. What is to be done stands in the database, so that a kill loses nothing.
 */
final readonly class PageLists
{
    /** Pages of one list that wait for workers or are being kept. */
    private const AT_ONCE = 4;
    /** Between two pages of one host, in seconds. */
    private const PAUSE = 1;
    private const TICK = 1_000;
    private const SHOWN = 100;

    public function __construct(
        private EntityManagerInterface $entities,
        private Connection $database,
        private MessageBusInterface $bus,
        private ClockInterface $clock,
        private Gate $gate,
        private Grants $grants,
        private NewestFirst $newest,
        private EventDispatcherInterface $events,
    ) {
    }

    /**
     * @param list<string> $addresses of the web
     * @param string|null $overruled why robots.txt does not bind; null where it does
     */
    public function begin(
        Actor $actor,
        string $name,
        array $addresses,
        CaptureMode $how,
        ?string $overruled,
        bool $confidential = false,
    ): CaptureList {
        return $this->entities->wrapInTransaction(function () use (
            $actor,
            $name,
            $addresses,
            $how,
            $overruled,
            $confidential,
        ): CaptureList {
            $limited = [];
            $list = new CaptureList(
                Codes::random(),
                mb_strimwidth('' === trim($name) ? \sprintf('%d pages', \count($addresses)) : trim($name), 0, 190, '…'),
                null === $overruled,
                null === $overruled ? null : mb_strimwidth($overruled, 0, 480, '…'),
                $actor->name,
                $this->clock->now(),
            );
            $list->limited = $confidential;
            $this->entities->persist($list);
            $this->entities->flush();
            $limited[] = $list->code;
            foreach ($addresses as $address) {
                $url = Url::tryParse($address)?->withoutUserinfo();
                if (null === $url || !$url->isWeb()) {
                    continue;
                }
                $job = new CaptureJob(
                    Codes::random(), (string) $url, $this->clock->now(), $actor->name, AddressKeys::keyHash((string) $url), $how, null,
                    $list->id, substr((string) $url->host, 0, 255),
                );
                $job->stage = CaptureStage::Listed;
                $job->limited = $confidential;
                $limited[] = $job->code;
                $this->entities->persist($job);
            }
            $this->entities->flush();
            if ($confidential) {
                $this->grants->made($limited, $actor->name);
            }
            $this->bus->dispatch(new WorkOnList((int) $list->id));
            $this->events->dispatch(new BroughtIn($actor->name, 'list:'.$list->code, $list->name, confidential: $confidential));

            return $list;
        });
    }

    public function byCode(Viewer $viewer, string $code): ?CaptureList
    {
        $list = $this->entities->getRepository(CaptureList::class)->findOneBy(['code' => $code]);

        return null === $list || !$this->grants->open($this->gate->sight($viewer), $list->limited, $list->code) ? null : $list;
    }

    /** @return list<CaptureList> */
    public function newest(Viewer $viewer): array
    {
        $sight = $this->gate->sight($viewer);

        return $this->newest->of(CaptureList::class, $sight->dql('e.limited', 'e.code'), $sight->parameters());
    }

    public function pause(CaptureList $list): void
    {
        $this->move($list, ListState::Running, ListState::Paused);
    }

    public function goOn(CaptureList $list): void
    {
        if ($this->move($list, ListState::Paused, ListState::Running)) {
            $this->bus->dispatch(new WorkOnList((int) $list->id));
        }
    }

    /** What has not begun is not begun any more; what was kept stays. */
    public function cancel(CaptureList $list): void
    {
        if ($this->move($list, ListState::Running, ListState::Cancelled) || $this->move($list, ListState::Paused, ListState::Cancelled)) {
            $this->database->executeStatement(
                "UPDATE capture_job SET stage = ?, reason = 'called-off', finished_at = ? WHERE list_id = ? AND stage = ?",
                [CaptureStage::Failed->value, MomentType::text($this->clock->now()), $list->id, CaptureStage::Listed->value],
            );
        }
    }

    /**
     * How many pages are where.
     *
     * @return array{all: int, waiting: int, open: int, whole: int, gaps: int, failed: int}
     */
    public function counts(Viewer $viewer, CaptureList $list): array
    {
        $counted = $this->database->fetchAssociative(
            \sprintf(<<<'SQL'
                SELECT COUNT(*) AS `all`,
                    COALESCE(SUM(stage = 'listed'), 0) AS waiting,
                    COALESCE(SUM(finished_at IS NULL AND stage <> 'listed'), 0) AS open,
                    COALESCE(SUM(stage = 'done' AND COALESCE(verdict, 'whole') = 'whole'), 0) AS whole,
                    COALESCE(SUM(stage = 'done' AND verdict = 'gaps'), 0) AS gaps,
                    COALESCE(SUM(stage = 'failed' OR verdict = 'failed'), 0) AS failed
                FROM capture_job j WHERE j.list_id = ? AND %s
                SQL, $this->seen($viewer)),
            [$list->id],
        );
        $row = new Row(false === $counted ? [] : $counted);

        return [
            'all' => $row->int('all'), 'waiting' => $row->int('waiting'), 'open' => $row->int('open'), 'whole' => $row->int('whole'),
            'gaps' => $row->int('gaps'), 'failed' => $row->int('failed'),
        ];
    }

    /**
     * The pages of a list in its order.
     *
     * @param int $after number of the job that was shown last
     *
     * @return list<array{
     *     id: int, code: string, url: string, stage: string, reason: string|null, capture: string|null, verdict: string|null,
     *     notBefore: \DateTimeImmutable|null,
     * }>
     */
    public function pages(Viewer $viewer, CaptureList $list, int $after = 0): array
    {
        return array_map(static function (array $values): array {
            $row = new Row($values);

            return [
                'id' => $row->int('id'), 'code' => $row->text('code'), 'url' => $row->text('url'), 'stage' => $row->text('stage'),
                'reason' => $row->textOrNull('reason'), 'capture' => $row->textOrNull('capture_code'),
                'verdict' => $row->textOrNull('verdict'), 'notBefore' => $row->momentOrNull('not_before'),
            ];
        }, $this->database->fetchAllAssociative(
            'SELECT j.id, j.code, j.url, j.stage, j.reason, j.capture_code, j.not_before, j.verdict FROM capture_job j'
                .' WHERE j.list_id = ? AND j.id > ? AND '.$this->seen($viewer).' ORDER BY j.id LIMIT '.self::SHOWN,
            [$list->id, $after],
        ));
    }

    private function seen(Viewer $viewer): string
    {
        return $this->gate->sight($viewer)->of('j.limited', 'COALESCE(j.capture_code, j.code)');
    }

    #[AsMessageHandler]
    public function work(WorkOnList $message): void
    {
        $this->entities->clear();
        $list = $this->entities->find(CaptureList::class, $message->listId);
        if (null === $list || ListState::Running !== $list->state) {
            return;
        }
        $now = MomentType::text($this->clock->now());
        $open = $this->database->fetchFirstColumn(
            'SELECT host FROM capture_job WHERE list_id = ? AND stage NOT IN (?) LIMIT 100',
            [$list->id, [CaptureStage::Listed->value, CaptureStage::Done->value, CaptureStage::Failed->value]],
            [1 => ArrayParameterType::STRING],
        );
        $free = self::AT_ONCE - \count($open);
        $resting = $this->database->fetchFirstColumn(
            'SELECT DISTINCT host FROM capture_job WHERE list_id = ? AND (finished_at > ? OR (stage = ? AND not_before > ?))',
            [$list->id, MomentType::text($this->clock->now()->modify('-'.self::PAUSE.' seconds')), CaptureStage::Listed->value, $now],
        );
        $rows = $free <= 0
            ? []
            : $this->database->fetchAllAssociative(
                'SELECT MIN(id) AS id, host FROM capture_job WHERE list_id = ? AND stage = ? AND host NOT IN (?) GROUP BY host ORDER BY'
                    .' 1 LIMIT '
                    .$free,
                [$list->id, CaptureStage::Listed->value, [...$open, ...$resting, '-']],
                [2 => ArrayParameterType::STRING],
            );
        foreach ($rows as $values) {
            $id = (new Row($values))->int('id');
            if (1 === (int) $this->database->executeStatement(
                'UPDATE capture_job SET stage = ?, not_before = NULL WHERE id = ? AND stage = ?',
                [CaptureStage::Waiting->value, $id, CaptureStage::Listed->value],
            )) {
                $this->bus->dispatch(new CapturePage($id));
            }
        }
        if ([] === $rows && [] === $open
            && false === $this->database->fetchOne(
                'SELECT 1 FROM capture_job WHERE list_id = ? AND stage = ? LIMIT 1', [$list->id, CaptureStage::Listed->value],
            )) {
            $list->state = ListState::Done;
            $list->finishedAt = $this->clock->now();
            $this->entities->flush();

            return;
        }
        $this->bus->dispatch($message, [new DelayStamp(self::TICK)]);
    }

    /**
     * A server wants to be left alone: the page is listed again, and its host rests.
     *
     * @param int $seconds for how long
     */
    public function later(CaptureJob $job, int $seconds): void
    {
        $until = MomentType::text($this->clock->now()->modify('+'.$seconds.' seconds'));
        $this->database->executeStatement(
            'UPDATE capture_job SET stage = ?, not_before = ? WHERE id = ?', [CaptureStage::Listed->value, $until, $job->id],
        );
    }

    private function move(CaptureList $list, ListState $from, ListState $to): bool
    {
        $moved = 1 === (int) $this->database->executeStatement(
            'UPDATE capture_list SET state = ?, finished_at = ? WHERE id = ? AND state = ?',
            [$to->value, ListState::Cancelled === $to ? MomentType::text($this->clock->now()) : null, $list->id, $from->value],
        );
        $list->state = $moved ? $to : $list->state;

        return $moved;
    }
}
