<?php

declare(strict_types=1);

namespace Ypomna\App\Desk;

use Doctrine\DBAL\Connection;
use Psr\Clock\ClockInterface;
use Psr\EventDispatcher\EventDispatcherInterface;
use Ypomna\App\Capture\Tags;
use Ypomna\App\Capture\Value\Tag;
use Ypomna\App\Desk\Entity\Dossier;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\Event\ItemTouched;
use Ypomna\App\Desk\Value\Act;
use Ypomna\App\Desk\Value\ActKind;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Type\MomentType;
use Ypomna\App\Shared\Viewer;

/** Who did what with items and dossiers. It is told to whoever sees the item, or the dossier; what they do not see is not named. */
final readonly class Journal
{
    private const LONGEST = 200;
    /** Within this, what one person writes in one go is one act. */
    private const SITTING = '-10 minutes';

    public function __construct(
        private Connection $database,
        private ItemRepository $items,
        private DossierRepository $dossiers,
        private Tags $tags,
        private ClockInterface $clock,
        private EventDispatcherInterface $events,
    ) {
    }

    /** @param array<string, string> $values of the message that says it */
    public function item(Actor $actor, Item $item, ActKind $kind, array $values = [], ?int $dossier = null): void
    {
        $this->write($actor, $item->id(), $dossier, $kind, $values);
        $this->events->dispatch(new ItemTouched($item->id()));
    }

    /** @param array<string, string> $values */
    public function dossier(Actor $actor, Dossier $dossier, ActKind $kind, array $values = []): void
    {
        $this->write($actor, null, $dossier->id(), $kind, $values);
    }

    /**
     * What was otherwise before, as acts.
     *
     * @param array<string, mixed> $was
     * @param list<int> $tags numbers of those it has now
     * @param array<int, string> $lies where it lies now
     */
    public function changed(Actor $actor, Item $item, array $was, array $tags, array $lies): void
    {
        foreach ($was as $name => $before) {
            match ($name) {
                'title' => $this->item($actor, $item, ActKind::Title, ['from' => \is_string($before) ? $before : '', 'to' => $item->title]),
                'summary' => $this->item($actor, $item, ActKind::Summary),
                'note' => $this->item($actor, $item, ActKind::Note),
                'tags' => $this->tagged($actor, $item, self::ints($before), $tags),
                'fields' => $this->item($actor, $item, ActKind::Fields, ['what' => self::different($before, $item->fields)]),
                'due' => $this->item($actor, $item, null === $item->due ? ActKind::NoDue : ActKind::Due,
                    ['to' => (string) $item->due?->format('Y-m-d')]),
                'important' => $this->item($actor, $item, $item->important ? ActKind::Important : ActKind::NotImportant),
                'confidential' => $this->item($actor, $item, $item->confidential ? ActKind::Confidential : ActKind::NotConfidential),
                'sorted' => $this->item($actor, $item, $item->sorted ? ActKind::Settled : ActKind::Unsettled),
                'parent' => $this->item($actor, $item, ActKind::Under, ['item' => $item->parent->code ?? '']),
                'place' => \array_key_exists('parent', $was) ? null : $this->item($actor, $item, ActKind::Ordered),
                'dossiers' => $this->laid($actor, $item, \is_array($before) ? $before : [], $lies),
                default => null,
            };
        }
    }

    /**
     * @param int $before number of the act that was shown last; 0 at the beginning
     *
     * @return array{list<Act>, int|null} as far as they are seen, the last one first; and where the list goes on, if it does
     */
    public function ofItem(Viewer $viewer, Item $item, int $before = 0, int $most = 50): array
    {
        return $this->acts($viewer, $most, $this->database->fetchAllAssociative(
            'SELECT * FROM desk_act WHERE item_id = ? AND (? = 0 OR id < ?) ORDER BY id DESC LIMIT '.($most + 1),
            [$item->id(), $before, $before],
        ));
    }

    /**
     * What was done with a dossier, and with what lies in it.
     *
     * @param int $before number of the act that was shown last; 0 at the beginning
     *
     * @return array{list<Act>, int|null} as far as they are seen, the last one first; and where the list goes on, if it does
     */
    public function ofDossier(Viewer $viewer, Dossier $dossier, int $before = 0, int $most = 50): array
    {
        $one = $most + 1;

        return $this->acts($viewer, $most, $this->database->fetchAllAssociative(<<<SQL
            (SELECT * FROM desk_act WHERE dossier_id = ? AND (? = 0 OR id < ?) ORDER BY id DESC LIMIT {$one})
            UNION
            (SELECT a.* FROM item_dossier h JOIN desk_act a ON a.item_id = h.item_id
                WHERE h.dossier_id = ? AND a.dossier_id IS NULL AND (? = 0 OR a.id < ?) ORDER BY a.id DESC LIMIT {$one})
            ORDER BY id DESC LIMIT {$one}
            SQL, [$dossier->id(), $before, $before, $dossier->id(), $before, $before]));
    }

    /**
     * @param list<array<string, mixed>> $rows
     *
     * @return array{list<Act>, int|null}
     */
    private function acts(Viewer $viewer, int $most, array $rows): array
    {
        $more = \count($rows) > $most;
        $rows = array_map(static fn (array $values): Row => new Row($values), \array_slice($rows, 0, $most));
        $items = $this->items->byNumbers($viewer, self::numbers($rows, 'item_id'));
        $dossiers = $this->dossiers->byNumbers($viewer, self::numbers($rows, 'dossier_id'));
        $above = [];
        $acts = [];
        foreach ($rows as $row) {
            /** @var array<string, string> $values */
            $values = json_decode($row->text('detail'), true, 4, \JSON_THROW_ON_ERROR);
            $item = $items[$row->intOrNull('item_id') ?? 0] ?? null;
            $dossier = $dossiers[$row->intOrNull('dossier_id') ?? 0] ?? null;
            if ((null !== $row->intOrNull('item_id') && null === $item) || (null !== $row->intOrNull('dossier_id') && null === $dossier)) {
                continue;
            }
            if (isset($values['item'])) {
                $above[$values['item']] = true;
            }
            $acts[] = [$row, $values, $item, $dossier];
        }
        $named = [];
        foreach ($this->items->byCodes($viewer, array_map(strval(...), array_keys($above))) as $one) {
            $named[$one->code] = $one->title;
        }

        return [array_map(static fn (array $act): Act => new Act(
            $act[0]->int('id'), ActKind::from($act[0]->text('kind')), $act[0]->text('person'), $act[0]->moment('done_at'),
            $act[1] + ['from' => '', 'to' => '', 'what' => $named[$act[1]['item'] ?? ''] ?? $act[3]->name ?? ''], $act[2], $act[3],
        ), $acts), $more ? $rows[$most - 1]->int('id') : null];
    }

    /** @param array<string, string> $values */
    private function write(Actor $actor, ?int $item, ?int $dossier, ActKind $kind, array $values): void
    {
        $now = $this->clock->now();
        if (ActKind::Note === $kind && null !== $item) {
            $before = $this->database->fetchAssociative(
                'SELECT id, kind, person, done_at FROM desk_act WHERE item_id = ? ORDER BY id DESC LIMIT 1', [$item],
            );
            $last = false === $before ? null : new Row($before);
            if (null !== $last && $last->text('kind') === $kind->value && $last->text('person') === $actor->name
                && $last->text('done_at') > MomentType::text($now->modify(self::SITTING))) {
                $this->database->update('desk_act', ['done_at' => MomentType::text($now)], ['id' => $last->int('id')]);

                return;
            }
        }
        $this->database->insert('desk_act', [
            'item_id' => $item, 'dossier_id' => $dossier, 'kind' => $kind->value, 'person' => $actor->name,
            'done_at' => MomentType::text($now),
            'detail' => json_encode(
                (object) array_map(static fn (string $value): string => mb_strimwidth($value, 0, self::LONGEST, '…'), $values),
                \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_UNICODE | \JSON_INVALID_UTF8_SUBSTITUTE,
            ),
        ]);
    }

    /**
     * @param array<array-key, mixed> $before places by number of the dossier
     * @param array<int, string> $now
     */
    private function laid(Actor $actor, Item $item, array $before, array $now): void
    {
        foreach ($now as $dossier => $place) {
            if (($before[$dossier] ?? null) !== $place) {
                $this->item($actor, $item, isset($before[$dossier]) ? ActKind::Ordered : ActKind::Laid, [], $dossier);
            }
        }
        foreach (array_keys(array_diff_key($before, $now)) as $dossier) {
            $this->item($actor, $item, ActKind::TakenOut, [], (int) $dossier);
        }
    }

    /**
     * @param list<int> $before
     * @param list<int> $now
     */
    private function tagged(Actor $actor, Item $item, array $before, array $now): void
    {
        $names = $this->tags->byNumbers([...$before, ...$now]);
        foreach ([
            [ActKind::Tagged, array_diff($now, $before)], [ActKind::Untagged, array_diff($before, $now)],
        ] as [$kind, $numbers]) {
            $some = array_map(static fn (Tag $tag): string => $tag->name, array_intersect_key($names, array_flip($numbers)));
            sort($some);
            if ([] !== $some) {
                $this->item($actor, $item, $kind, ['what' => implode(', ', $some)]);
            }
        }
    }

    /** Names of the fields that are not as they were. */
    private static function different(mixed $before, mixed $now): string
    {
        [$before, $now] = [\is_array($before) ? $before : [], \is_array($now) ? $now : []];
        $names = array_filter(
            array_keys($before + $now), static fn (int|string $name): bool => ($before[$name] ?? null) !== ($now[$name] ?? null),
        );

        return implode(', ', $names);
    }

    /** @return list<int> */
    private static function ints(mixed $values): array
    {
        return array_values(array_filter(\is_array($values) ? $values : [], \is_int(...)));
    }

    /**
     * @param list<Row> $rows
     *
     * @return list<int>
     */
    private static function numbers(array $rows, string $column): array
    {
        return array_values(array_unique(array_filter(
            array_map(static fn (Row $row): ?int => $row->intOrNull($column), $rows), static fn (?int $id): bool => null !== $id,
        )));
    }
}
