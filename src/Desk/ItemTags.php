<?php

declare(strict_types=1);

namespace Ypomna\App\Desk;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Psr\EventDispatcher\EventDispatcherInterface;
use Ypomna\App\Access\Gate;
use Ypomna\App\Capture\Tags;
use Ypomna\App\Capture\Value\Tag;
use Ypomna\App\Capture\Value\TagKind;
use Ypomna\App\Desk\Event\TagChanged;
use Ypomna\App\Desk\Value\UsedTag;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\TransactionRetry;
use Ypomna\App\Shared\Viewer;

/** The tags of items. A tag is seen by whoever sees an item that has it. */
final readonly class ItemTags
{
    public function __construct(private Connection $database, private Tags $tags, private Gate $gate,
        private EventDispatcherInterface $events)
    {
    }

    /** @return list<UsedTag> by number; what the tags stand under is told as far as that is seen, too */
    public function all(Viewer $viewer, int $after = 0, int $most = 50): array
    {
        return $this->used($viewer, 't.tag_id > ? GROUP BY t.tag_id ORDER BY t.tag_id LIMIT '.max(1, $most), [$after]);
    }

    /** @return list<string> names that begin so, those used last first */
    public function called(Viewer $viewer, string $typed, int $most): array
    {
        $tags = $this->tags->beginning($typed, max(50, $most));
        $ids = array_map(static fn (Tag $tag): int => $tag->id, $tags);
        $seen = [];
        foreach ([] === $ids ? [] : $this->database->fetchFirstColumn(\sprintf(
            'SELECT v.id FROM (%s) v WHERE EXISTS (SELECT 1 FROM item_tag t JOIN item i ON i.id = t.item_id'
                .' WHERE t.tag_id = v.id AND i.deleted_at IS NULL AND %s)',
            implode(' UNION ALL ', array_fill(0, \count($ids), 'SELECT ? AS id')),
            $this->gate->sight($viewer)->of('i.limited', 'i.code'),
        ), $ids) as $id) {
            $seen[is_numeric($id) ? (int) $id : 0] = true;
        }

        return \array_slice(array_values(array_map(
            static fn (Tag $tag): string => $tag->name, array_filter($tags, static fn (Tag $tag): bool => isset($seen[$tag->id])),
        )), 0, $most);
    }

    public function byName(Viewer $viewer, string $name): ?UsedTag
    {
        $tag = $this->tags->byName($name);

        return null === $tag ? null : $this->used($viewer, 't.tag_id = ? GROUP BY t.tag_id', [$tag->id])[0] ?? null;
    }

    /**
     * @param string|false|null $parent name; null for none; false: it stays
     *
     * @throws Circle|CannotChange
     */
    public function change(Viewer $viewer, Tag $tag, ?string $name, ?TagKind $kind, string|false|null $parent): ?UsedTag
    {
        $changed = TransactionRetry::transaction($this->database, function () use ($viewer, $tag, $name, $kind, $parent): ?UsedTag {
            $above = \is_string($parent) ? $this->tags->byNumbers($this->tags->numbers([$parent])) : [];
            $above = [] === $above ? null : array_values($above)[0];
            if (null !== $above && \in_array($above->id, $this->tags->below([$tag->id]), true)) {
                throw new Circle('desk.tag_circle');
            }
            $other = null === $name ? null : $this->tags->byName($name);
            if (null !== $other && $other->id !== $tag->id) {
                if (null !== $this->byName($viewer, $other->name)) {
                    throw new CannotChange('desk.tag_is_there', ['name' => $other->name]);
                }
                // Nobody is told that others have it: both are one from now on.
                $this->join($other, $tag);
            }
            $this->tags->change($tag, $name ?? $tag->name, $kind ?? $tag->kind, false === $parent ? $tag->parent : $above?->id);

            return $this->byName($viewer, $name ?? $tag->name);
        });
        if (null !== $name && $name !== $tag->name) {
            $this->events->dispatch(new TagChanged($tag->id));
        }

        return $changed;
    }

    public function merge(Tag $tag, Tag $into): void
    {
        TransactionRetry::transaction($this->database, function () use ($tag, $into): void {
            $this->join($tag, $into);
        });
        $this->events->dispatch(new TagChanged($into->id));
    }

    /** @return list<int> numbers of items that have it, behind one, rising */
    public function itemsWith(int $tag, int $behind, int $most): array
    {
        return array_values(array_map(intval(...), array_filter($this->database->fetchFirstColumn(
            'SELECT item_id FROM item_tag WHERE tag_id = ? AND item_id > ? ORDER BY item_id LIMIT '.max(1, $most), [$tag, $behind],
        ), is_numeric(...))));
    }

    private function join(Tag $tag, Tag $into): void
    {
        $this->database->executeStatement(
            'INSERT IGNORE INTO item_tag (item_id, tag_id) SELECT t.item_id, ? FROM item_tag t WHERE t.tag_id = ?', [$into->id, $tag->id],
        );
        $this->database->delete('item_tag', ['tag_id' => $tag->id]);
        $this->database->executeStatement(
            'INSERT IGNORE INTO always_tag (person, tag_id) SELECT a.person, ? FROM always_tag a WHERE a.tag_id = ?', [$into->id, $tag->id],
        );
        $this->database->delete('always_tag', ['tag_id' => $tag->id]);
        $this->tags->merge($tag, $into);
    }

    /**
     * @param list<int> $values
     *
     * @return list<UsedTag>
     */
    private function used(Viewer $viewer, string $where, array $values): array
    {
        $counts = [];
        foreach ($this->database->fetchAllAssociative(\sprintf(
            'SELECT t.tag_id, COUNT(*) AS items FROM item_tag t JOIN item i ON i.id = t.item_id WHERE i.deleted_at IS NULL AND %s AND %s',
            $this->gate->sight($viewer)->among('i.limited', 'i.code'), $where,
        ), $values) as $row) {
            $row = new Row($row);
            $counts[$row->int('tag_id')] = $row->int('items');
        }
        $tags = $this->tags->byNumbers(array_keys($counts));
        $above = array_values(array_unique(array_filter(array_map(static fn (Tag $tag): ?int => $tag->parent, $tags), \is_int(...))));
        $parents = array_intersect_key($this->tags->byNumbers($above), array_flip($this->seenAmong($viewer, $above)));

        return array_values(array_map(
            static fn (int $id): UsedTag => new UsedTag($tags[$id], $counts[$id], $parents[$tags[$id]->parent ?? 0] ?? null),
            array_values(array_intersect(array_keys($counts), array_keys($tags))),
        ));
    }

    /**
     * Those of them that somebody's items have, or tags under them: else nobody could see what they stand for.
     *
     * @param list<int> $ids
     *
     * @return list<int>
     */
    private function seenAmong(Viewer $viewer, array $ids): array
    {
        $seen = [];
        foreach ($ids as $id) {
            $some = $this->database->fetchOne(\sprintf(
                'SELECT 1 FROM item_tag t JOIN item i ON i.id = t.item_id WHERE t.tag_id IN (?) AND i.deleted_at IS NULL AND %s LIMIT 1',
                $this->gate->sight($viewer)->among('i.limited', 'i.code'),
            ), [$this->tags->below([$id])], [ArrayParameterType::INTEGER]);
            if (false !== $some) {
                $seen[] = $id;
            }
        }

        return $seen;
    }
}
