<?php

declare(strict_types=1);

namespace Ypomna\App\Desk;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Ypomna\App\Access\Gate;
use Ypomna\App\Access\Right;
use Ypomna\App\Capture\Tags;
use Ypomna\App\Catalogue\CaptureLists;
use Ypomna\App\Desk\Entity\Dossier;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\Value\FieldRow;
use Ypomna\App\Desk\Value\ItemOrder;
use Ypomna\App\Desk\Value\ItemQuery;
use Ypomna\App\Desk\Value\Part;
use Ypomna\App\Desk\Value\ShownItem;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Viewer;

/** Finds items, as far as somebody may see them, and says what they may do with them. */
final readonly class ItemRepository
{
    /** Titles that are looked through from end to end. */
    private const NEWEST = 5_000;
    private const LAST_DAY = '9999-12-31';

    public function __construct(
        private EntityManagerInterface $entities,
        private Connection $database,
        private DossierRepository $dossiers,
        private CaptureLists $captures,
        private Tags $tags,
        private Gate $gate,
    ) {
    }

    public function byCode(Viewer $viewer, string $code): ?Item
    {
        return $this->byCodes($viewer, [$code])[0] ?? null;
    }

    /**
     * @param list<string> $codes
     *
     * @return list<Item> those of them that are seen, in that order
     */
    public function byCodes(Viewer $viewer, array $codes): array
    {
        $sight = $this->gate->sight($viewer);
        $ids = [] === $codes ? [] : self::ints($this->database->fetchFirstColumn(
            'SELECT i.id FROM item i WHERE i.code IN (?) AND i.deleted_at IS NULL AND '.$sight->of('i.limited', 'i.code'),
            [$codes], [ArrayParameterType::STRING],
        ));
        $found = [];
        foreach ($this->entities($ids) as $item) {
            $found[$item->code] = $item;
        }

        return array_values(array_filter(array_replace(array_intersect_key(array_fill_keys($codes, null), $found), $found)));
    }

    /**
     * @param list<int> $ids
     *
     * @return array<int, Item> by number, those of them that are seen
     */
    public function byNumbers(Viewer $viewer, array $ids): array
    {
        $found = [] === $ids ? [] : $this->entities(self::ints($this->database->fetchFirstColumn(
            'SELECT i.id FROM item i WHERE i.id IN (?) AND i.deleted_at IS NULL AND '
                .$this->gate->sight($viewer)->of('i.limited', 'i.code'),
            [$ids], [ArrayParameterType::INTEGER],
        )));

        return array_combine(array_map(static fn (Item $item): int => $item->id(), $found), $found);
    }

    /**
     * @return list<Item> those behind a number, rising
     */
    public function behind(Viewer $viewer, int $number, int $most): array
    {
        return $this->entities(self::ints($this->database->fetchFirstColumn(
            'SELECT i.id FROM item i WHERE i.id > ? AND i.deleted_at IS NULL AND '
                .$this->gate->sight($viewer)->of('i.limited', 'i.code').' ORDER BY i.id LIMIT '.max(1, $most),
            [$number],
        )));
    }

    /**
     * @param list<int> $ids
     *
     * @return array<int, true> by number, those of them that are seen
     */
    public function seenAmong(Viewer $viewer, array $ids): array
    {
        return array_fill_keys([] === $ids ? [] : self::ints($this->database->fetchFirstColumn(
            'SELECT i.id FROM item i WHERE i.id IN (?) AND i.deleted_at IS NULL AND '
                .$this->gate->sight($viewer)->of('i.limited', 'i.code'),
            [$ids], [ArrayParameterType::INTEGER],
        )), true);
    }

    /**
     * @param list<int> $tags numbers
     *
     * @return list<Item> that have one of them, by title
     */
    public function tagged(Viewer $viewer, array $tags, int $most): array
    {
        return $this->entities(self::ints($this->database->fetchFirstColumn(
            'SELECT i.id FROM item i WHERE i.id IN (SELECT t.item_id FROM item_tag t WHERE t.tag_id IN (?)) AND i.deleted_at IS NULL AND '
                .$this->gate->sight($viewer)->of('i.limited', 'i.code').' ORDER BY i.title, i.id LIMIT '.$most,
            [$tags], [ArrayParameterType::INTEGER],
        )));
    }

    /**
     * By the beginning of the title; behind those, of the newest ones, what has it anywhere in the title.
     *
     * @return list<Item>
     */
    public function called(Viewer $viewer, string $typed, int $most): array
    {
        $seen = $this->gate->sight($viewer)->among('i.limited', 'i.code');
        $like = addcslashes($typed, '\\%_');
        $ids = self::ints($this->database->fetchFirstColumn(
            "SELECT i.id FROM item i WHERE i.titled LIKE ? AND i.deleted_at IS NULL AND {$seen} ORDER BY i.titled, i.id LIMIT ".$most,
            [$like.'%'],
        ));
        if (\count($ids) < $most) {
            $ids = array_unique([...$ids, ...self::ints($this->database->fetchFirstColumn(
                'SELECT i.id FROM item i WHERE i.id > (SELECT CAST(MAX(n.id) AS SIGNED) - '.self::NEWEST
                    ." FROM item n) AND i.titled LIKE ? AND i.deleted_at IS NULL AND {$seen} ORDER BY i.id DESC LIMIT ".$most,
                ['%'.$like.'%'],
            ))]);
        }

        return \array_slice($this->entities(array_values($ids)), 0, $most);
    }

    /** One that was deleted and can still be brought back; only who may change it is told of it. */
    public function deleted(Viewer $viewer, string $code, \DateTimeImmutable $since): ?Item
    {
        $item = $this->entities->getRepository(Item::class)->findOneBy(['code' => $code]);
        if (null === $item || null === $item->deletedAt || $item->deletedAt < $since) {
            return null;
        }

        return $this->mayChange($viewer, $item) ? $item : null;
    }

    /**
     * @param list<string> $codes
     *
     * @return array<string, true> those of them that somebody sees, or saw until they were deleted
     */
    public function everSeen(Viewer $viewer, array $codes): array
    {
        return array_fill_keys([] === $codes ? [] : array_filter($this->database->fetchFirstColumn(
            'SELECT i.code FROM item i WHERE i.code IN (?) AND '.$this->gate->sight($viewer)->of('i.limited', 'i.code'),
            [$codes], [ArrayParameterType::STRING],
        ), \is_string(...)), true);
    }

    /** Whether some item has that code, seen or not. */
    public function isTaken(string $code): bool
    {
        return false !== $this->database->fetchOne('SELECT 1 FROM item WHERE code = ?', [$code]);
    }

    /** What somebody's program, file or job brought here. */
    public function cameBy(Viewer $viewer, string $origin): ?Item
    {
        $code = $this->database->fetchOne('SELECT i.code FROM item i WHERE i.came_by = ?', [$origin]);

        return \is_string($code) ? $this->byCode($viewer, $code) : null;
    }

    /** @return list<Item> */
    public function list(Viewer $viewer, ItemQuery $query): array
    {
        return $this->entities(array_column($this->rows($viewer, $query), 0));
    }

    /**
     * All that is asked for, a page at a time; what was given before is let go of.
     *
     * @return \Generator<int, list<Item>>
     */
    public function pages(Viewer $viewer, ItemQuery $query): \Generator
    {
        while ([] !== ($found = $this->list($viewer, $query))) {
            yield $found;
            $query = $query->from($this->cursor($viewer, $query, $found[\count($found) - 1]));
            $this->entities->clear();
        }
    }

    /**
     * @param list<Item> $items
     *
     * @return array<int, true> by number, those under which there is something that is seen
     */
    public function branching(Viewer $viewer, array $items): array
    {
        $ids = array_map(static fn (Item $item): int => $item->id(), $items);

        return array_fill_keys([] === $ids ? [] : self::ints($this->database->fetchFirstColumn(
            'SELECT DISTINCT i.parent_id FROM item i WHERE i.parent_id IN (?) AND i.deleted_at IS NULL AND '
                .$this->gate->sight($viewer)->of('i.limited', 'i.code'),
            [$ids], [ArrayParameterType::INTEGER],
        )), true);
    }

    /**
     * What the fields of items hold, without the items themselves: where very many are read.
     *
     * @return \Generator<int, FieldRow>
     */
    public function fields(Viewer $viewer, ItemQuery $query): \Generator
    {
        $ids = array_column($this->rows($viewer, $query), 0);
        foreach (array_chunk($ids, 2_000) as $some) {
            foreach ($this->database->fetchAllAssociative(
                "SELECT code, title, summary, capture_code, fields FROM item WHERE id IN (?) AND fields NOT IN ('[]', '{}') ORDER BY id",
                [$some],
                [ArrayParameterType::INTEGER],
            ) as $values) {
                $row = new Row($values);
                $fields = json_decode($row->text('fields'), true);
                yield new FieldRow(
                    $row->text('code'), $row->text('title'), $row->text('summary'), $row->textOrNull('capture_code'),
                    \is_array($fields) ? $fields : [],
                );
            }
        }
    }

    /** How many wait in somebody's intake. */
    public function waiting(Viewer $viewer): int
    {
        if (null === $viewer->name) {
            return 0;
        }
        $number = $this->database->fetchOne(
            'SELECT COUNT(*) FROM item i WHERE i.created_by = ? AND i.sorted = 0 AND i.deleted_at IS NULL AND '
                .$this->gate->sight($viewer)->of('i.limited', 'i.code'),
            [$viewer->name],
        );

        return is_numeric($number) ? (int) $number : 0;
    }

    /**
     * Where a list goes on.
     *
     * @return array{string, int} what it is ordered by, and the number
     */
    public function cursor(Viewer $viewer, ItemQuery $query, Item $last): array
    {
        return [match ($query->order) {
            ItemOrder::Title => mb_substr($last->title, 0, 100),
            ItemOrder::Due => $last->due?->format('Y-m-d') ?? self::LAST_DAY,
            ItemOrder::Hand => $this->place($viewer, $query, $last),
            default => '',
        }, $last->id()];
    }

    /**
     * Items with what belongs to them, as far as it is seen.
     *
     * @param list<Item> $items
     *
     * @return list<ShownItem>
     */
    public function shown(Viewer $viewer, array $items): array
    {
        $ids = array_map(static fn (Item $item): int => $item->id(), $items);
        $tags = $this->tagsOf($ids);
        $dossiers = $this->dossiersOf($viewer, $ids);
        $captures = $this->captures->facts($viewer, array_values(array_filter(
            array_map(static fn (Item $item): ?string => $item->captureCode, $items), static fn (?string $code): bool => null !== $code,
        )));
        $parents = [];
        // By their numbers, which are known without a question for each of them.
        foreach ($this->byNumbers($viewer, array_values(array_unique(array_filter(
            array_map(static fn (Item $item): ?int => $item->parent?->id, $items), static fn (?int $id): bool => null !== $id,
        )))) as $parent) {
            $parents[$parent->id()] = $parent;
        }

        return array_map(static fn (Item $item): ShownItem => new ShownItem(
            $item, $tags[$item->id()] ?? [], $dossiers[$item->id()] ?? [], $parents[$item->parent->id ?? 0] ?? null,
            null === $item->captureCode ? null : $captures[$item->captureCode] ?? null,
        ), $items);
    }

    /**
     * @param list<int> $ids
     *
     * @return array<int, list<string>> names by number of the item
     */
    public function tagsOf(array $ids): array
    {
        $of = [];
        foreach ([] === $ids ? [] : $this->database->fetchAllAssociative(
            'SELECT item_id, tag_id FROM item_tag WHERE item_id IN (?)', [$ids], [ArrayParameterType::INTEGER],
        ) as $values) {
            $row = new Row($values);
            $of[$row->int('item_id')][] = $row->int('tag_id');
        }
        $names = [] === $of ? [] : $this->tags->byNumbers(array_values(array_unique(array_merge(...array_values($of)))));
        foreach ($of as $item => $numbers) {
            $of[$item] = array_values(array_filter(
                array_map(static fn (int $id): string => $names[$id]->name ?? '', $numbers), static fn (string $name): bool => '' !== $name,
            ));
            sort($of[$item]);
        }

        return $of;
    }

    /**
     * @param list<int> $ids
     *
     * @return array<int, list<Dossier>> by number of the item
     */
    public function dossiersOf(Viewer $viewer, array $ids): array
    {
        $of = $codes = [];
        foreach ([] === $ids ? [] : $this->database->fetchAllAssociative(
            'SELECT h.item_id, d.code FROM item_dossier h JOIN dossier d ON d.id = h.dossier_id'
                .' WHERE h.item_id IN (?) AND d.deleted_at IS NULL ORDER BY d.name, d.id',
            [$ids], [ArrayParameterType::INTEGER],
        ) as $values) {
            $row = new Row($values);
            $of[$row->int('item_id')][] = $row->text('code');
            $codes[$row->text('code')] = true;
        }
        $seen = [];
        foreach ($this->dossiers->byCodes($viewer, array_map(strval(...), array_keys($codes))) as $dossier) {
            $seen[$dossier->code] = $dossier;
        }

        return array_map(static fn (array $some): array => array_values(array_filter(
            array_map(static fn (string $code): ?Dossier => $seen[$code] ?? null, $some),
            static fn (?Dossier $one): bool => null !== $one,
        )), $of);
    }

    /** Whether somebody may change an item: who writes in one of its dossiers; of what lies in none, who made it, or may that above it. */
    public function mayChange(Viewer $viewer, Item $item): bool
    {
        if (!$this->gate->may($viewer, Right::Keep)) {
            return false;
        }
        if ($this->gate->sight($viewer)->isWhole() || ($item->confidential && $item->createdBy === $viewer->name)) {
            return true;
        }
        $held = self::ints($this->database->fetchFirstColumn('SELECT dossier_id FROM item_dossier WHERE item_id = ?', [$item->id()]));
        foreach ([] === $held
            ? [] : $this->entities->getRepository(Dossier::class)->findBy(['id' => $held, 'deletedAt' => null]) as $dossier) {
            if ($this->dossiers->may($viewer, $dossier, Part::Writer)) {
                return true;
            }
            $isElsewhere = true;
        }

        return !isset($isElsewhere) && (null !== $item->parent && null === $item->parent->deletedAt
            ? $this->mayChange($viewer, $item->parent)
            : $item->createdBy === $viewer->name);
    }

    /**
     * Items of a capture.
     *
     * @return list<Item> as far as they are seen, the first one first
     */
    public function ofCapture(Viewer $viewer, string $capture): array
    {
        return $this->list($viewer, new ItemQuery(capture: $capture, order: ItemOrder::Oldest));
    }

    /**
     * @return list<array{int, string}> numbers, and what they are ordered by
     */
    private function rows(Viewer $viewer, ItemQuery $query): array
    {
        $from = 'item i';
        $where = ['i.deleted_at IS NULL'];
        $values = $types = [];
        $add = static function (string $condition, mixed $value, ?ArrayParameterType $type = null) use (&$where, &$values, &$types): void {
            $where[] = $condition;
            if (null !== $type) {
                $types[\count($values)] = $type;
            }
            $values[] = $value;
        };
        $dossier = null === $query->dossier ? null : $this->dossiers->byCode($viewer, $query->dossier);
        if (null !== $query->dossier && null === $dossier) {
            return [];
        }
        if (null !== $dossier) {
            $from = 'item_dossier h JOIN item i ON i.id = h.item_id';
            $add('h.dossier_id = ?', $dossier->id());
        }
        if (null !== $query->within) {
            $outer = $this->dossiers->byCode($viewer, $query->within);
            if (null === $outer) {
                return [];
            }
            // The dossiers are asked for first: where many are seen, one question for both goes through all that was granted for each item.
            $add('i.id IN (SELECT w.item_id FROM item_dossier w WHERE w.dossier_id IN (?))', $this->dossiers->numbersBelow(
                $viewer, $outer,
            ), ArrayParameterType::INTEGER);
        }
        if (null !== $query->parent) {
            $parent = $this->byCode($viewer, $query->parent);
            if (null === $parent) {
                return [];
            }
            $add('i.parent_id = ?', $parent->id());
        }
        if (null !== $query->tag) {
            $known = $this->tags->known([$query->tag]);
            if ([] === $known) {
                return [];
            }
            $add('i.id IN (SELECT t.item_id FROM item_tag t WHERE t.tag_id = ?)', $known[0]);
        }
        foreach ([
            'i.sorted = ?' => null === $query->sorted ? null : (int) $query->sorted,
            'i.important = ?' => null === $query->important ? null : (int) $query->important,
            'i.kind = ?' => $query->kind?->value, 'i.capture_code = ?' => $query->capture, 'i.created_by = ?' => $query->by,
            'i.due_on < ?' => $query->dueBefore?->format('Y-m-d'),
        ] as $condition => $value) {
            if (null !== $value) {
                $add($condition, $value);
            }
        }
        if (null !== $query->words) {
            $add('i.title LIKE ?', '%'.addcslashes($query->words, '\\%_').'%');
        }
        if (null !== $query->capture && !isset($this->captures->facts($viewer, [$query->capture])[$query->capture])) {
            return [];
        }
        [$by, $down] = match ($query->order) {
            ItemOrder::Title => ['i.titled', false],
            ItemOrder::Due => ['i.due_on', false],
            ItemOrder::Hand => [null !== $dossier ? 'h.place' : (null !== $query->parent ? 'i.place' : null), false],
            ItemOrder::Newest => [null, true],
            ItemOrder::Oldest => [null, false],
        };
        if (null !== $query->after) {
            $where[] = null === $by
                ? ($down ? 'i.id < ?' : 'i.id > ?')
                : "({$by} > ? OR ({$by} = ? AND i.id > ?))";
            array_push($values, ...(null === $by ? [$query->after[1]] : [$query->after[0], $query->after[0], $query->after[1]]));
        }
        $sight = $this->gate->sight($viewer);
        $where[] = null === $query->within ? $sight->of('i.limited', 'i.code') : $sight->among('i.limited', 'i.code');
        $rows = $this->database->fetchAllAssociative(\sprintf(
            'SELECT i.id, %s AS ordered_by FROM %s WHERE %s ORDER BY %s LIMIT %d', $by ?? "''", $from, implode(' AND ', $where),
            (null === $by ? '' : $by.', ').'i.id'.($down ? ' DESC' : ''), $query->most,
        ), $values, $types);

        return array_map(static function (array $values): array {
            $row = new Row($values);

            return [$row->int('id'), $row->text('ordered_by')];
        }, $rows);
    }

    private function place(Viewer $viewer, ItemQuery $query, Item $item): string
    {
        if (null === $query->dossier) {
            return null === $query->parent ? '' : $item->place;
        }
        $place = $this->database->fetchOne(
            'SELECT h.place FROM item_dossier h JOIN dossier d ON d.id = h.dossier_id WHERE d.code = ? AND h.item_id = ?',
            [$query->dossier, $item->id()],
        );

        return \is_string($place) ? $place : '';
    }

    /**
     * @param list<int> $ids
     *
     * @return list<Item> in that order
     */
    private function entities(array $ids): array
    {
        if ([] === $ids) {
            return [];
        }
        $found = [];
        foreach ($this->entities->getRepository(Item::class)->findBy(['id' => $ids]) as $item) {
            $found[$item->id()] = $item;
        }

        return array_values(array_filter(
            array_map(static fn (int $id): ?Item => $found[$id] ?? null, $ids), static fn (?Item $item): bool => null !== $item,
        ));
    }

    /**
     * @param list<mixed> $values
     *
     * @return list<int>
     */
    private static function ints(array $values): array
    {
        return array_map(static fn (mixed $value): int => is_numeric($value) ? (int) $value : 0, $values);
    }
}
