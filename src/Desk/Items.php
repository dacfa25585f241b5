<?php

declare(strict_types=1);

namespace Ypomna\App\Desk;

use Doctrine\DBAL\Connection;
use Doctrine\DBAL\LockMode;
use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Ypomna\App\Capture\Tags;
use Ypomna\App\Catalogue\CaptureLists;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\Value\ActKind;
use Ypomna\App\Desk\Value\ItemChange;
use Ypomna\App\Desk\Value\ItemKind;
use Ypomna\App\Desk\Value\ItemSubject;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\TransactionRetry;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Desk\Rank;

/**
 * Makes items and changes them, many at once or one: all or nothing, and each act can be undone. Whether somebody may change them was
 * asked before; what the gate has to know is told to it in the same transaction.
 */
final readonly class Items
{
    /** How long one that was deleted can be brought back. */
    public const KEPT = '-30 days';
    public const DEEPEST = 100;
    public const MOST_AT_ONCE = 1_000;

    public function __construct(
        private EntityManagerInterface $entities,
        private Connection $database,
        private ItemRepository $items,
        private Laying $laying,
        private ItemGrants $grants,
        private ItemFields $fields,
        private Undo $undo,
        private Notes $notes,
        private Journal $journal,
        private Tags $tags,
        private CaptureLists $captures,
        private ClockInterface $clock,
    ) {
    }

    /**
     * @param string|null $origin what brought it: a job or a file; nothing comes twice
     *
     * @throws WrongValue|Circle
     */
    public function make(
        Actor $actor,
        Viewer $viewer,
        ItemKind $kind,
        ItemSubject $subject,
        ItemChange $wish,
        ?string $origin = null,
        ?string $code = null,
    ): Item {
        return $this->retried(function () use ($actor, $viewer, $kind, $subject, $wish, $origin, $code): Item {
            $item = new Item($code ?? Codes::random(), $kind, $actor->name, $this->clock->now());
            $item->captureCode = $subject->capture;
            $item->url = $subject->url;
            $item->sha256 = $subject->sha256;
            $item->cameBy = $origin;
            $item->state = Codes::random();
            $this->entities->persist($item);
            $this->entities->flush();
            $item->path = $item->step();
            $item->place = $this->lastPlace($item, null);
            $this->apply($actor, $viewer, $item, $wish);
            $this->entities->flush();
            $this->grants->refresh([$item->id()]);
            $this->entities->refresh($item);
            $this->journal->item($actor, $item, ActKind::Made);
            $this->journal->changed($actor, $item, ['dossiers' => []], [], $this->laying->of($item));

            return $item;
        });
    }

    /**
     * @param list<Item> $items
     *
     * @return array{int, string} how many are not as they were, and what undoes it
     *
     * @throws WrongValue|Circle|SomebodyWasFaster
     */
    public function change(Actor $actor, Viewer $viewer, array $items, ItemChange $wish): array
    {
        $known = array_map(static fn (Item $item): string => $item->state, $items);

        return $this->retried(function () use ($actor, $viewer, $items, $known, $wish): array {
            $steps = $this->changing($actor, $items, $known, function (Item $item) use ($actor, $viewer, $wish): array {
                return $this->apply($actor, $viewer, $item, $wish);
            });

            return [\count($steps), $this->undo->keep($actor, $steps)];
        });
    }

    /**
     * Puts an item elsewhere in an order that is made by hand.
     *
     * @param string|false|null $parent code of the item under which it is to be; null for none; false: it stays
     * @param string|null $dossier code of the one in whose order it is put
     * @param string|null $beside code of the item before or after which it is to be; null: at the end
     *
     * @return string what undoes it
     *
     * @throws WrongValue|Circle|SomebodyWasFaster
     */
    public function move(
        Actor $actor,
        Viewer $viewer,
        Item $item,
        string|false|null $parent,
        ?string $dossier,
        ?string $beside,
        bool $isBefore,
    ): string {
        $known = [$item->state];

        return $this->retried(function () use ($actor, $viewer, $item, $known, $parent, $dossier, $beside, $isBefore): string {
            $steps = $this->changing(
                $actor, [$item], $known,
                fn (Item $item): array => $this->put($actor, $viewer, $item, $parent, $dossier, $beside, $isBefore),
            );

            return $this->undo->keep($actor, $steps);
        });
    }

    /** It goes with the items under it, and can be brought back for a while. */
    public function delete(Actor $actor, Item $item): void
    {
        $this->mark($item, null, $this->clock->now());
        $this->journal->item($actor, $item, ActKind::Deleted);
    }

    public function restore(Actor $actor, Item $item): void
    {
        if (null !== $item->parent?->deletedAt) {
            $this->under($item, null);
            $this->entities->flush();
        }
        $this->mark($item, $item->deletedAt, null);
        $this->journal->item($actor, $item, ActKind::Restored);
    }

    /**
     * Puts back what an act changed, unless it was changed since.
     *
     * @return int how many items
     *
     * @throws ChangedSince
     */
    public function undo(Actor $actor, Viewer $viewer, string $code): ?int
    {
        return $this->retried(function () use ($actor, $viewer, $code): ?int {
            $steps = $this->undo->take($actor, $code);
            if (null === $steps) {
                return null;
            }
            $items = [];
            foreach ([] === $steps ? [] : $this->entities->getRepository(Item::class)->findBy(['id' => array_keys($steps)]) as $item) {
                $this->entities->lock($item, LockMode::PESSIMISTIC_WRITE);
                $this->entities->refresh($item);
                $items[$item->id()] = $item;
            }
            $others = [];
            foreach ($steps as $id => $step) {
                $item = $items[$id] ?? null;
                if (null === $item || null !== $item->deletedAt || $item->state !== $step['to']
                    || !$this->items->mayChange($viewer, $item)) {
                    $others[] = $item;
                }
            }
            if ([] !== $others) {
                throw new ChangedSince(array_map(static fn (Item $item): string => $item->code, $this->items->byCodes(
                    $viewer, array_map(static fn (?Item $item): string => $item->code ?? '', $others),
                )));
            }
            foreach ($items as $id => $item) {
                $this->putBack($actor, $item, $steps[$id]['was']);
                $item->state = $steps[$id]['from'];
                $item->changedAt = $this->clock->now();
                $this->journal->item($actor, $item, ActKind::Undone);
            }
            $this->entities->flush();
            $this->grants->refresh(array_keys($items));

            return \count($items);
        });
    }

    /**
     * @param list<Item> $items
     * @param list<string> $known the states that whoever asks knows
     * @param \Closure(Item): array<string, mixed> $act gives back what was otherwise before
     *
     * @return array<int, array{from: string, to: string, was: array<string, mixed>}> by number
     */
    private function changing(Actor $actor, array $items, array $known, \Closure $act): array
    {
        $steps = [];
        $order = array_map(static fn (Item $item): int => $item->id(), $items);
        asort($order);
        foreach (array_keys($order) as $n) {
            // In one order, so that two acts do not wait for each other.
            $this->entities->lock($items[$n], LockMode::PESSIMISTIC_WRITE);
            $this->entities->refresh($items[$n]);
            if ($items[$n]->state !== $known[$n] || null !== $items[$n]->deletedAt) {
                throw new SomebodyWasFaster('desk.item_was_changed');
            }
        }
        foreach ($items as $item) {
            $was = $act($item);
            if ([] !== $was) {
                $steps[$item->id()] = ['from' => $item->state, 'to' => $item->state = Codes::random(), 'was' => $was];
                $item->changedAt = $this->clock->now();
            }
        }
        $this->entities->flush();
        $this->grants->refresh(array_keys($steps));
        foreach ($items as $item) {
            $this->entities->refresh($item);
            $was = $steps[$item->id()]['was'] ?? [];
            $this->journal->changed(
                $actor, $item, $was, isset($was['tags']) ? $this->tagNumbers($item) : [],
                isset($was['dossiers']) ? $this->laying->of($item) : [],
            );
        }

        return $steps;
    }

    /**
     * @return array<string, mixed> what was otherwise before
     *
     * @throws WrongValue|Circle
     */
    private function apply(Actor $actor, Viewer $viewer, Item $item, ItemChange $wish): array
    {
        $was = [];
        $set = static function (string $name, mixed $now, mixed $before, \Closure $write) use (&$was): void {
            if ($now !== $before) {
                $was[$name] = $before;
                $write();
            }
        };
        foreach (['title' => $wish->title, 'summary' => $wish->summary] as $name => $value) {
            if (null !== $value) {
                $set($name, $value, $item->{$name}, static function () use ($item, $name, $value): void {
                    $item->{$name} = $value;
                });
            }
        }
        if (null !== $wish->note) {
            $set('note', $wish->note, $item->note, fn () => $this->notes->write($actor, $item, $wish->note));
        }
        if (false !== $wish->due) {
            $due = $wish->due?->format('Y-m-d');
            $set('due', $due, $item->due?->format('Y-m-d'), static function () use ($item, $wish): void {
                $item->due = false === $wish->due ? $item->due : $wish->due;
            });
        }
        if (false !== $wish->dueFor) {
            $set('dueFor', $wish->dueFor?->value, $item->dueFor?->value, static function () use ($item, $wish): void {
                $item->dueFor = false === $wish->dueFor ? $item->dueFor : $wish->dueFor;
            });
        }
        foreach (['important' => $wish->important, 'confidential' => $wish->confidential] as $name => $value) {
            if (null !== $value) {
                $set($name, $value, $item->{$name}, static function () use ($item, $name, $value): void {
                    $item->{$name} = $value;
                });
            }
        }
        $subject = $wish->subject;
        if (null !== $subject) {
            $set('capture', $subject->capture, $item->captureCode, static function () use ($item, $subject): void {
                $item->captureCode = $subject->capture;
            });
            $set('url', $subject->url, $item->url, static function () use ($item, $subject): void {
                $item->url = $subject->url;
            });
        }
        $was += $this->tag($item, $wish);
        $laid = $this->lay($actor, $viewer, $item, $wish);
        $was += $laid;
        // Whoever said where it goes has sorted it.
        $sorted = $wish->sorted ?? ([] !== $laid && [] !== $this->laying->of($item) ? true : null);
        if (null !== $sorted) {
            $set('sorted', $sorted, $item->sorted, static function () use ($item, $sorted): void {
                $item->sorted = $sorted;
            });
        }
        if (false !== $wish->parent) {
            $parent = $this->parent($viewer, $wish->parent);
            $set('parent', $parent?->id(), $item->parent?->id(), function () use ($item, $parent, &$was): void {
                $was['place'] = $item->place;
                $this->under($item, $parent);
            });
        }
        if ([] !== $wish->fields || $wish->noFields) {
            $fields = $wish->noFields ? [] : $this->fields->merged($item, $wish->fields);
            $set('fields', $fields, $item->fields, static function () use ($item, $fields): void {
                $item->fields = $fields;
            });
        }

        return $was;
    }

    /**
     * @return array<string, mixed>
     *
     * @throws WrongValue
     */
    private function tag(Item $item, ItemChange $wish): array
    {
        if (null === $wish->tags && [] === $wish->addTags && [] === $wish->removeTags) {
            return [];
        }
        $before = $this->tagNumbers($item);
        $now = null === $wish->tags ? $before : $this->tags->numbers($wish->tags);
        $now = array_values(array_unique([...array_diff($now, $this->tags->known($wish->removeTags)),
            ...$this->tags->numbers($wish->addTags)]));
        sort($now);
        if (\count($now) > Item::MOST_TAGS) {
            throw new WrongValue('/tags', \sprintf('At most %d tags are taken.', Item::MOST_TAGS));
        }
        if ($now === $before) {
            return [];
        }
        $this->setTags($item, $now);

        return ['tags' => $before];
    }

    /** @return list<int> rising */
    private function tagNumbers(Item $item): array
    {
        return array_map(
            static fn (mixed $id): int => is_numeric($id) ? (int) $id : 0,
            $this->database->fetchFirstColumn('SELECT tag_id FROM item_tag WHERE item_id = ? ORDER BY tag_id', [$item->id()]),
        );
    }

    /** @param list<int> $numbers */
    private function setTags(Item $item, array $numbers): void
    {
        $this->database->delete('item_tag', ['item_id' => $item->id()]);
        foreach ($numbers as $number) {
            $this->database->executeStatement('INSERT IGNORE INTO item_tag (item_id, tag_id) VALUES (?, ?)', [$item->id(), $number]);
        }
    }

    /**
     * @return array<string, mixed>
     *
     * @throws WrongValue
     */
    private function lay(Actor $actor, Viewer $viewer, Item $item, ItemChange $wish): array
    {
        if (null === $wish->dossiers && [] === $wish->addDossiers && [] === $wish->removeDossiers) {
            return [];
        }
        $before = $this->laying->of($item);
        $pointer = null === $wish->dossiers ? '/addDossiers' : '/dossiers';
        $into = $this->laying->writable($viewer, [...($wish->dossiers ?? []), ...$wish->addDossiers], $pointer);
        $seen = $this->laying->seen($viewer, $item);
        $outOf = array_values(array_filter(
            array_keys($seen),
            static fn (string $code): bool => \in_array($code, $wish->removeDossiers, true)
                || (null !== $wish->dossiers && !isset($into[$code])),
        ));
        $this->laying->writable($viewer, $outOf, null === $wish->dossiers ? '/removeDossiers' : '/dossiers');
        $new = array_diff_key($into, $seen);
        if ([] !== $new && null !== $item->captureCode
            && !isset($this->captures->facts($viewer, [$item->captureCode])[$item->captureCode])) {
            // Its people would see what whoever lays it there does not.
            throw new WrongValue($pointer, 'Only an item whose capture you see can be laid into a dossier.');
        }
        foreach ($outOf as $code) {
            $this->laying->takeOut($item, $seen[$code]);
        }
        foreach ($new as $dossier) {
            $this->laying->lay($actor, $item, $dossier);
        }

        return [] === $outOf && [] === $new ? [] : ['dossiers' => $before];
    }

    /** @throws WrongValue */
    private function parent(Viewer $viewer, ?string $code): ?Item
    {
        $parent = null === $code ? null : $this->items->byCode($viewer, $code);
        if (null !== $code && (null === $parent || !$this->items->mayChange($viewer, $parent))) {
            throw new WrongValue('/parent', 'There is no such item under which you may put something.');
        }

        return $parent;
    }

    /** @throws Circle */
    private function under(Item $item, ?Item $parent, ?string $place = null): void
    {
        if (null !== $parent && str_starts_with($parent->path, $item->path)) {
            throw new Circle('desk.item_circle');
        }
        $path = (null === $parent ? '' : $parent->path).$item->step();
        $this->database->fetchOne('SELECT 1 FROM item WHERE id = ? FOR UPDATE', [$parent?->id() ?? $item->id()]);
        $deepest = $this->database->fetchOne('SELECT MAX(LENGTH(path)) FROM item WHERE path LIKE ?', [$item->path.'%']);
        if ((is_numeric($deepest) ? (int) $deepest : 0) - \strlen($item->path) + \strlen($path) > 8 * self::DEEPEST) {
            throw new Circle('desk.items_too_deep', ['most' => self::DEEPEST]);
        }
        if ($path !== $item->path) {
            $this->database->executeStatement(
                'UPDATE item SET path = CONCAT(?, SUBSTRING(path, ?)) WHERE path LIKE ? AND id <> ?',
                [$path, \strlen($item->path) + 1, $item->path.'%', $item->id()],
            );
        }
        $item->place = $place ?? $this->lastPlace($item, $parent);
        $item->parent = $parent;
        $item->path = $path;
    }

    private function lastPlace(Item $item, ?Item $parent): string
    {
        if (null === $parent) {
            // Those under no item are in no order of their own.
            return Rank::between(null, null);
        }
        $last = $this->database->fetchOne(
            'SELECT MAX(place) FROM item WHERE parent_id = ? AND id <> ?', [$parent->id(), $item->id()],
        );

        return Rank::between(\is_string($last) ? $last : null, null);
    }

    /**
     * @return array<string, mixed>
     *
     * @throws WrongValue|Circle
     */
    private function put(
        Actor $actor,
        Viewer $viewer,
        Item $item,
        string|false|null $parent,
        ?string $dossier,
        ?string $beside,
        bool $isBefore,
    ): array {
        $was = [];
        if (false !== $parent) {
            $was = ['parent' => $item->parent?->id(), 'place' => $item->place];
            $this->under($item, $this->parent($viewer, $parent));
        }
        if (null !== $dossier) {
            $was += ['dossiers' => $this->laying->of($item)];
            $into = $this->laying->writable($viewer, [$dossier], '/dossier')[$dossier];
            if (!isset($this->laying->seen($viewer, $item)[$dossier])) {
                $this->lay($actor, $viewer, $item, new ItemChange(addDossiers: [$dossier]));
                $was += ['sorted' => $item->sorted];
                $item->sorted = true;
            }
            $this->laying->place($item, $into, null === $beside ? null : $this->neighbour($viewer, $beside, $isBefore), $isBefore);

            return $was;
        }
        if (null !== $beside) {
            $was += ['place' => $item->place];
            $item->place = $this->placeBeside($item, $this->neighbour($viewer, $beside, $isBefore), $isBefore);
        }

        return $was;
    }

    /** @throws WrongValue */
    private function neighbour(Viewer $viewer, string $code, bool $isBefore): Item
    {
        return $this->items->byCode($viewer, $code)
            ?? throw new WrongValue($isBefore ? '/before' : '/after', 'There is no such item beside which this one could be.');
    }

    /** @throws WrongValue */
    private function placeBeside(Item $item, Item $beside, bool $isBefore): string
    {
        if (null === $item->parent || $beside->parent?->id() !== $item->parent->id() || $beside->id() === $item->id()) {
            throw new WrongValue($isBefore ? '/before' : '/after', 'These two are not under the same item.');
        }
        $other = $this->database->fetchOne(
            $isBefore
                ? 'SELECT MAX(place) FROM item WHERE parent_id = ? AND place < ? AND id <> ?'
                : 'SELECT MIN(place) FROM item WHERE parent_id = ? AND place > ? AND id <> ?',
            [$item->parent->id(), $beside->place, $item->id()],
        );
        $other = \is_string($other) ? $other : null;

        return $isBefore ? Rank::between($other, $beside->place) : Rank::between($beside->place, $other);
    }

    /** @param array<string, mixed> $was */
    private function putBack(Actor $actor, Item $item, array $was): void
    {
        $row = new Row($was);
        foreach ($was as $name => $before) {
            switch ($name) {
                case 'title': case 'summary': case 'place':
                    $item->{$name} = $row->text($name);
                    break;
                case 'capture':
                    $item->captureCode = $row->textOrNull('capture');
                    break;
                case 'url':
                    $item->url = $row->textOrNull('url');
                    break;
                case 'note':
                    $this->notes->write($actor, $item, $row->text('note'));
                    break;
                case 'due':
                    $item->due = null === $before ? null : new \DateTimeImmutable($row->text('due'), new \DateTimeZone('UTC'));
                    break;
                case 'dueFor':
                    $item->dueFor = null === $before ? null : Value\DueFor::from($row->text('dueFor'));
                    break;
                case 'important': case 'confidential': case 'sorted':
                    $item->{$name} = true === $before;
                    break;
                case 'fields':
                    /** @var array<string, mixed> $fields */
                    $fields = \is_array($before) ? $before : [];
                    $item->fields = $fields;
                    break;
                case 'tags':
                    $this->setTags($item, array_values(array_filter(\is_array($before) ? $before : [], \is_int(...))));
                    break;
                case 'dossiers':
                    /** @var array<int, string> $places */
                    $places = \is_array($before) ? $before : [];
                    $this->laying->putBack($actor, $item, $places);
                    break;
                case 'parent':
                    $parent = \is_int($before) ? $this->entities->find(Item::class, $before) : null;
                    $this->under($item, $parent, $row->textOrNull('place'));
                    break;
                default:
                    throw new \LogicException('What was kept to undo an act is not known: '.$name.'.');
            }
        }
    }

    private function mark(Item $item, ?\DateTimeImmutable $from, ?\DateTimeImmutable $to): void
    {
        $text = static fn (?\DateTimeImmutable $at): ?string => null === $at ? null : \Ypomna\App\Shared\Type\MomentType::text($at);
        $this->retried(function () use ($item, $from, $to, $text): null {
            // What was deleted before by itself stays so.
            $this->database->executeStatement(
                'UPDATE item SET deleted_at = ? WHERE path LIKE ? AND deleted_at <=> ?', [$text($to), $item->path.'%', $text($from)],
            );
            $ids = array_map(
                static fn (mixed $id): int => is_numeric($id) ? (int) $id : 0,
                $this->database->fetchFirstColumn('SELECT id FROM item WHERE path LIKE ?', [$item->path.'%']),
            );
            $this->laying->grantCaptures($ids);
            $this->grants->refresh([$item->id()]);
            $this->entities->refresh($item);

            return null;
        });
    }

    /**
     * @template T
     *
     * @param \Closure(): T $act
     *
     * @return T
     */
    private function retried(\Closure $act): mixed
    {
        return TransactionRetry::transaction($this->database, $act);
    }
}
