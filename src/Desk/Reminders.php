<?php

declare(strict_types=1);

namespace Ypomna\App\Desk;

use Doctrine\DBAL\Connection;
use Psr\Clock\ClockInterface;
use Psr\EventDispatcher\EventDispatcherInterface;
use Psr\Log\LoggerInterface;
use Symfony\Component\EventDispatcher\Attribute\AsEventListener;
use Symfony\Component\Routing\Generator\UrlGeneratorInterface;
use Symfony\Contracts\Translation\TranslatorInterface;
use Ypomna\App\Capture\CaptureRequests;
use Ypomna\App\Capture\Event\CaptureEnded;
use Ypomna\App\Catalogue\CaptureLists;
use Ypomna\App\Desk\Entity\Dossier;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\Event\Reminded;
use Ypomna\App\Desk\Value\DueFor;
use Ypomna\App\Desk\Value\ItemChange;
use Ypomna\App\Desk\Value\Part;
use Ypomna\App\Network\CaptureOptions;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Event\RemindersAsked;
use Ypomna\App\Shared\Event\RoundMade;
use Ypomna\App\Shared\KnownPeople;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Type\MomentType;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Address\InvalidAddress;

/**
 * Of an item that is due whoever said so is reminded, once for each day that is set. A page that is to be captured again is captured: the
 * item leads to the new capture, lies where it lay, and is no longer due; where it fails, it stays due.
 */
final readonly class Reminders
{
    private const AT_ONCE = 100;
    private const TOLD = 20;
    /** What was due before that is told by the first screen alone. */
    private const LATE = '-30 days';

    public function __construct(
        private Connection $database,
        private ItemRepository $found,
        private Items $items,
        private ItemLinks $links,
        private DossierRepository $dossiers,
        private CaptureRequests $requests,
        private CaptureLists $captures,
        private KnownPeople $people,
        private EventDispatcherInterface $events,
        private TranslatorInterface $translator,
        private UrlGeneratorInterface $urls,
        private ClockInterface $clock,
        private LoggerInterface $logger,
    ) {
    }

    #[AsEventListener(RoundMade::class)]
    public function look(): void
    {
        $now = $this->clock->now()->setTimezone(new \DateTimeZone('UTC'));
        $rows = $this->database->fetchAllAssociative(
            <<<'SQL'
                SELECT i.id, i.due_on, COALESCE(
                    (SELECT a.person FROM desk_act a WHERE a.item_id = i.id AND a.kind = 'due' ORDER BY a.id DESC LIMIT 1), i.created_by
                ) AS person
                FROM item i WHERE i.due_on <= ? AND i.due_on >= ? AND i.deleted_at IS NULL
                    AND NOT EXISTS (SELECT 1 FROM reminder r WHERE r.item_id = i.id AND r.due = i.due_on)
                ORDER BY i.due_on, i.id LIMIT
                SQL.' '.self::AT_ONCE,
            [$now->format('Y-m-d'), $now->modify(self::LATE)->format('Y-m-d')],
        );
        $of = [];
        foreach (array_map(static fn (array $values): Row => new Row($values), $rows) as $row) {
            // Whoever comes first reminds.
            $isMine = 1 === (int) $this->database->executeStatement(
                'INSERT IGNORE INTO reminder (item_id, due, person, reminded_at) VALUES (?, ?, ?, ?)',
                [$row->int('id'), $row->text('due_on'), $row->text('person'), MomentType::text($this->clock->now())],
            );
            if ($isMine) {
                $of[$row->text('person')][] = $row->int('id');
            }
        }
        foreach ($of as $person => $ids) {
            $viewer = $this->people->viewer((string) $person);
            // What they see no longer is not told.
            $items = null === $viewer->name ? [] : array_values($this->found->byNumbers($viewer, $ids));
            if ([] === $items) {
                continue;
            }
            foreach ($items as $item) {
                if (DueFor::Capture === $item->dueFor) {
                    $this->captureAgain($viewer, $item);
                }
            }
            $this->events->dispatch(new Reminded((string) $person, $items));
        }
    }

    #[AsEventListener]
    public function onCaptureEnded(CaptureEnded $event): void
    {
        $values = null === $event->captureCode ? false : $this->database->fetchAssociative(
            'SELECT item_id, person FROM reminder WHERE job = ?', [$event->jobCode],
        );
        if (false === $values || null === $event->captureCode) {
            return;
        }
        $row = new Row($values);
        $viewer = $this->people->viewer($row->text('person'));
        $item = null === $viewer->name ? null : array_values($this->found->byNumbers($viewer, [$row->int('item_id')]))[0] ?? null;
        if (null === $item || !$this->found->mayChange($viewer, $item)) {
            return;
        }
        $actor = new Actor($row->text('person'));
        try {
            $this->links->make(
                $actor, $viewer, $item, $event->captureCode, null, $this->translator->trans('desk.captured_again_when_it_was_due'),
            );
            if (DueFor::Capture === $item->dueFor) {
                $this->items->change($actor, $viewer, [$item], new ItemChange(due: null, dueFor: null));
            }
        } catch (WrongValue|SomebodyWasFaster|Circle $e) {
            // The capture is there, and the item was changed meanwhile: it stays as somebody has it.
            $this->logger->warning('An item could not be led to what was captured for it.', ['exception' => $e]);
        }
    }

    /** Of what they see, and as far as it is there. */
    #[AsEventListener]
    public function tell(RemindersAsked $asked): void
    {
        $of = [];
        foreach (null === $asked->viewer->name ? [] : $this->database->fetchAllAssociative(
            'SELECT item_id, reminded_at FROM reminder WHERE person = ? AND reminded_at > ? ORDER BY reminded_at DESC LIMIT '.self::TOLD,
            [$asked->viewer->name, MomentType::text($this->clock->now()->modify(self::LATE))],
        ) as $values) {
            $row = new Row($values);
            $of[$row->int('item_id')] ??= $row->moment('reminded_at');
        }
        $items = [] === $of ? [] : array_values($this->found->byNumbers($asked->viewer, array_keys($of)));
        foreach ($this->found->shown($asked->viewer, $items) as $shown) {
            $asked->tell($of[$shown->item->id()], $shown->name(), $this->urls->generate('item', ['code' => $shown->item->code]));
        }
    }

    private function captureAgain(Viewer $viewer, Item $item): void
    {
        $facts = null === $item->captureCode ? null : $this->captures->facts($viewer, [$item->captureCode])[$item->captureCode] ?? null;
        $url = $facts->url ?? $item->url;
        if (null === $url || !$this->found->mayChange($viewer, $item)) {
            return;
        }
        $dossier = array_values(array_filter(
            $this->found->dossiersOf($viewer, [$item->id()])[$item->id()] ?? [],
            fn (Dossier $one): bool => $this->dossiers->may($viewer, $one, Part::Writer),
        ))[0] ?? null;
        try {
            $job = $this->requests->ask(
                new Actor((string) $viewer->name), $url, new CaptureOptions(), $item->confidential, $dossier?->code, brought: false,
            );
        } catch (InvalidAddress) {
            return;
        }
        $this->database->executeStatement(
            'UPDATE reminder SET job = ? WHERE item_id = ? AND due = ?', [$job->code, $item->id(), $item->due?->format('Y-m-d')],
        );
    }
}
