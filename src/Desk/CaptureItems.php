<?php

declare(strict_types=1);

namespace Ypomna\App\Desk;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Ypomna\App\Capture\CaptureDescriptions;
use Ypomna\App\Catalogue\CaptureLimits;
use Ypomna\App\Catalogue\CaptureLists;
use Ypomna\App\Catalogue\CaptureRepository;
use Ypomna\App\Desk\Entity\Dossier;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\Value\ItemChange;
use Ypomna\App\Desk\Value\ItemKind;
use Ypomna\App\Desk\Value\ItemOrder;
use Ypomna\App\Desk\Value\ItemQuery;
use Ypomna\App\Desk\Value\ItemSubject;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\KnownPeople;
use Ypomna\App\Shared\Type\MomentType;
use Ypomna\App\Shared\Viewer;

/** Captures become items with what was written beside them; what is done with a dossier is done with what lies in it. */
final readonly class CaptureItems
{
    private const AT_ONCE = 200;

    public function __construct(
        private Connection $database,
        private Items $items,
        private ItemRepository $found,
        private Laying $laying,
        private CaptureLists $captures,
        private CaptureRepository $holdings,
        private CaptureLimits $limits,
        private CaptureDescriptions $descriptions,
        private AlwaysTags $always,
        private KnownPeople $people,
    ) {
    }

    /**
     * Whether whoever asks may lay something there was asked before.
     *
     * @param string|null $job code of the job that made the capture
     */
    public function lay(Actor $actor, Dossier $dossier, string $capture, ?string $job = null, ?\DateTimeImmutable $due = null): Item
    {
        $viewer = $this->people->viewer($actor->name);
        foreach ($this->found->list(Viewer::system(), new ItemQuery(dossier: $dossier->code, capture: $capture, most: 1)) as $item) {
            return $item;
        }
        foreach (null === $viewer->name ? [] : $this->found->ofCapture($viewer, $capture) as $item) {
            if ($this->found->mayChange($viewer, $item)) {
                $this->items->change($actor, Viewer::system(), [$item], new ItemChange(sorted: true, addDossiers: [$dossier->code]));

                return $item;
            }
        }

        return $this->make(
            $actor, $capture, new ItemChange(due: $due ?? false, addDossiers: [$dossier->code]), null === $job ? null : 'job:'.$job,
        );
    }

    public function takeOut(Actor $actor, Dossier $dossier, string $capture): void
    {
        do {
            $items = $this->found->list(
                Viewer::system(), new ItemQuery(dossier: $dossier->code, capture: $capture, most: self::AT_ONCE),
            );
            foreach ($items as $item) {
                $this->items->change($actor, Viewer::system(), [$item], new ItemChange(removeDossiers: [$dossier->code]));
            }
        } while (self::AT_ONCE === \count($items));
    }

    /**
     * An item of a capture, with title, why and tags as they were written beside it.
     *
     * @param string|null $origin what brought it, by kind and code
     */
    public function make(Actor $actor, string $capture, ItemChange $wish, ?string $origin = null): Item
    {
        $before = null === $origin ? null : $this->found->cameBy(Viewer::system(), $origin);
        $entity = $this->holdings->byCode(Viewer::system(), $capture);
        $confidential = null !== $entity && $this->limits->isConfidential(Viewer::system(), $entity);

        return $this->items->make(
            $actor, Viewer::system(), ItemKind::Capture, new ItemSubject($capture, $entity?->url),
            $this->carried(Viewer::system(), $capture, new ItemChange(
                due: $wish->due, confidential: $confidential, sorted: $wish->sorted, addTags: $this->always->of($actor->name),
                addDossiers: $wish->addDossiers,
            )),
            null === $before ? $origin : null,
        );
    }

    /** What was written beside a capture, and what its page calls itself, as far as nothing else is said of a new item of it. */
    public function carried(Viewer $viewer, string $capture, ItemChange $wish): ItemChange
    {
        $written = $this->descriptions->ofCaptures([$capture])[$capture] ?? null;
        $facts = $this->captures->facts($viewer, [$capture])[$capture] ?? null;
        $title = $written->title ?? '';

        return new ItemChange(
            $wish->title ?? mb_substr('' !== $title ? $title : $facts->title ?? $facts->url ?? '', 0, Item::LONGEST_TITLE),
            $wish->summary ?? mb_substr($written->why ?? '', 0, Item::LONGEST_SUMMARY), $wish->note, $wish->due, $wish->dueFor,
            $wish->important, $wish->confidential, $wish->sorted, $wish->tags ?? $written->tags ?? [], $wish->addTags, $wish->removeTags,
            $wish->dossiers, $wish->addDossiers, $wish->removeDossiers, $wish->parent, $wish->fields, $wish->noFields,
        );
    }

    /** What lies in a dossier lies as well in another one, as items of their own. */
    public function copyInto(Actor $actor, Viewer $viewer, Dossier $from, Dossier $into): void
    {
        $copies = [];
        $query = new ItemQuery(dossier: $from->code, order: ItemOrder::Hand, most: self::AT_ONCE);
        while ([] !== ($items = $this->found->list($viewer, $query))) {
            foreach ($this->found->shown($viewer, $items) as $shown) {
                $item = $shown->item;
                $above = null === $item->parent ? null : $copies[$item->parent->code] ?? null;
                $copies[$item->code] = $this->items->make(
                    $actor, $viewer, $item->kind, new ItemSubject($shown->capture?->code, $item->url, $item->sha256), new ItemChange(
                        $item->title, $item->summary, $item->note, $item->due, $item->dueFor, $item->important, $item->confidential,
                        tags: $shown->tags, addDossiers: [$into->code], parent: $above ?? false, fields: $item->fields,
                    ),
                )->code;
            }
            $last = $items[\count($items) - 1];
            $query = new ItemQuery(
                dossier: $from->code, order: ItemOrder::Hand, after: $this->found->cursor($viewer, $query, $last), most: self::AT_ONCE,
            );
        }
    }

    /**
     * What lay only in dossiers that are deleted now is deleted with them, and comes back with them.
     *
     * @param list<int> $dossiers numbers
     */
    public function deletedWith(array $dossiers, ?\DateTimeImmutable $from, ?\DateTimeImmutable $to): void
    {
        $text = static fn (?\DateTimeImmutable $at): ?string => null === $at ? null : MomentType::text($at);
        foreach (array_chunk($dossiers, self::AT_ONCE) as $some) {
            $this->database->executeStatement(
                <<<'SQL'
                    UPDATE item i SET i.deleted_at = ? WHERE i.deleted_at <=> ? AND i.id IN (
                        SELECT * FROM (
                            SELECT h.item_id FROM item_dossier h WHERE h.dossier_id IN (?) AND (? IS NULL OR NOT EXISTS (
                                SELECT 1 FROM item_dossier o JOIN dossier d ON d.id = o.dossier_id
                                WHERE o.item_id = h.item_id AND d.deleted_at IS NULL
                            ))
                        ) ids
                    )
                    SQL,
                [$text($to), $text($from), $some, $text($to)], [2 => ArrayParameterType::INTEGER],
            );
            $this->below($some, $text($from), $text($to));
            $ids = array_map(
                static fn (mixed $id): int => is_numeric($id) ? (int) $id : 0,
                $this->database->fetchFirstColumn(
                    'SELECT DISTINCT item_id FROM item_dossier WHERE dossier_id IN (?)', [$some], [ArrayParameterType::INTEGER],
                ),
            );
            foreach (array_chunk($ids, self::AT_ONCE) as $part) {
                $this->laying->grantCaptures($part);
            }
        }
    }

    /**
     * What is under items that go, or come back, goes with them, unless it lies in a dossier by itself.
     *
     * @param list<int> $dossiers
     */
    private function below(array $dossiers, ?string $from, ?string $to): void
    {
        foreach ($this->database->fetchFirstColumn(
            'SELECT DISTINCT p.path FROM item_dossier h JOIN item p ON p.id = h.item_id JOIN item c ON c.parent_id = p.id'
                .' WHERE h.dossier_id IN (?) AND p.deleted_at <=> ?',
            [$dossiers, $to], [ArrayParameterType::INTEGER],
        ) as $path) {
            $this->database->executeStatement(
                <<<'SQL'
                    UPDATE item i SET i.deleted_at = ? WHERE i.path LIKE ? AND i.deleted_at <=> ? AND NOT EXISTS (
                        SELECT 1 FROM item_dossier o JOIN dossier d ON d.id = o.dossier_id
                        WHERE o.item_id = i.id AND d.deleted_at IS NULL
                    )
                    SQL,
                [$to, (\is_string($path) ? $path : '-').'%', $from],
            );
        }
    }
}
