<?php

declare(strict_types=1);

namespace Ypomna\App\Desk;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Ypomna\App\Catalogue\CaptureLists;
use Ypomna\App\Catalogue\Value\CaptureFacts;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\Value\Knot;
use Ypomna\App\Desk\Value\Tie;
use Ypomna\App\Desk\Value\TieKind;
use Ypomna\App\Shared\Row;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Desk\Stemma;

/** What hangs together around an item, as far as somebody sees it: links, names in notes, and what lies under what. */
final readonly class Ties
{
    /** Things in one picture. */
    public const MOST = 200;
    /** Ties that are read at each step. */
    private const MOST_TIES = 2_000;

    public function __construct(private Connection $database, private ItemRepository $items, private CaptureLists $captures)
    {
    }

    /**
     * @return array{list<Knot>, list<Tie>, bool} the item first; whether there is more than is shown
     */
    public function around(Viewer $viewer, Item $item): array
    {
        $ties = $abouts = [];
        $things = [$item->code => $item];
        $step = [$item];
        $isMore = false;
        for ($n = 0; $n < 2 && [] !== $step; ++$n) {
            $found = $this->of($step);
            foreach ($step as $one) {
                $abouts[$one->captureCode ?? ''] ??= $one->code;
            }
            // What leads to a capture leads to the item that is about it.
            $found = array_map(static fn (Tie $tie): Tie => new Tie(
                $tie->from, $abouts[$tie->to] ?? $tie->to, $tie->kind, $tie->words,
            ), $found);
            $new = $this->things($viewer, array_diff(array_unique(array_merge(...array_map(
                static fn (Tie $tie): array => [$tie->from, $tie->to], $found,
            ))), array_keys($things)));
            $isMore = $isMore || \count($found) >= self::MOST_TIES || \count($things) + \count($new) > self::MOST;
            $new = \array_slice($new, 0, self::MOST - \count($things), true);
            $things += $new;
            $ties = [...$ties, ...$found];
            $step = array_values(array_filter($new, static fn (mixed $one): bool => $one instanceof Item));
        }
        $ties = self::once(array_filter($ties, static fn (Tie $tie): bool => isset($things[$tie->from], $things[$tie->to])));
        $facts = $this->captures->facts($viewer, array_values(array_filter(array_map(
            static fn (Item|CaptureFacts $thing): ?string => $thing instanceof Item ? $thing->captureCode : null, $things,
        ), static fn (?string $code): bool => null !== $code)));
        $knots = [];
        foreach (Stemma::around($item->code, array_map(
            static fn (Tie $tie): array => [$tie->from, $tie->to], $ties,
        )) as $code => [$column, $row]) {
            $thing = $things[$code];
            $at = $thing instanceof Item ? $facts[$thing->captureCode ?? '']->capturedAt ?? null : $thing->capturedAt;
            $knots[] = new Knot((string) $code, $thing, $at, $column, $row);
        }

        return [$knots, $ties, $isMore];
    }

    /**
     * @param list<Item> $items
     *
     * @return list<Tie>
     */
    private function of(array $items): array
    {
        $ids = array_map(static fn (Item $item): int => $item->id(), $items);
        $codes = array_map(static fn (Item $item): string => $item->code, $items);
        $captures = array_values(array_unique(array_filter(
            array_map(static fn (Item $item): ?string => $item->captureCode, $items), static fn (?string $code): bool => null !== $code,
        )));
        $limit = ' LIMIT '.self::MOST_TIES;
        $links = <<<'SQL'
            SELECT f.code AS one, COALESCE(t.code, l.to_capture) AS other, l.remark, l.passage
            FROM item_link l JOIN item f ON f.id = l.from_id LEFT JOIN item t ON t.id = l.to_id WHERE l.deleted_at IS NULL AND
            SQL;
        $ties = [];
        foreach ([
            [TieKind::Link, $links.' l.from_id IN (?) ORDER BY l.id'.$limit, $ids],
            [TieKind::Link, $links.' l.to_id IN (?) ORDER BY l.id'.$limit, $ids],
            [TieKind::Link, $links.' l.to_capture IN (?) ORDER BY l.id'.$limit, $captures],
            [TieKind::Note, 'SELECT i.code AS one, l.to_code AS other, NULL AS remark, NULL AS passage FROM note_link l'
                .' JOIN item i ON i.id = l.item_id WHERE l.item_id IN (?) ORDER BY l.item_id'.$limit, $ids],
            [TieKind::Note, 'SELECT i.code AS one, l.to_code AS other, NULL AS remark, NULL AS passage FROM note_link l'
                .' JOIN item i ON i.id = l.item_id WHERE l.to_code IN (?) ORDER BY l.item_id'.$limit, $codes],
            [TieKind::Above, 'SELECT p.code AS one, c.code AS other, NULL AS remark, NULL AS passage FROM item c'
                .' JOIN item p ON p.id = c.parent_id WHERE c.parent_id IN (?) ORDER BY c.place, c.id'.$limit, $ids],
            [TieKind::Above, 'SELECT p.code AS one, c.code AS other, NULL AS remark, NULL AS passage FROM item c'
                .' JOIN item p ON p.id = c.parent_id WHERE c.id IN (?) ORDER BY c.id'.$limit, $ids],
        ] as [$kind, $sql, $values]) {
            foreach ([] === $values ? [] : $this->database->fetchAllAssociative(
                $sql, [$values], [\is_int($values[0]) ? ArrayParameterType::INTEGER : ArrayParameterType::STRING],
            ) as $row) {
                $row = new Row($row);
                $passage = json_decode($row->textOrNull('passage') ?? 'null', true);
                $exact = \is_array($passage) && \is_string($passage['exact'] ?? null) ? $passage['exact'] : '';
                $ties[] = new Tie($row->text('one'), $row->text('other'), $kind, $row->textOrNull('remark') ?? $exact);
            }
        }

        return $ties;
    }

    /**
     * @param array<array-key, string> $codes
     *
     * @return array<string, Item|CaptureFacts> those of them that are seen, by code
     */
    private function things(Viewer $viewer, array $codes): array
    {
        $codes = array_values($codes);
        $things = [];
        foreach ($this->items->byCodes($viewer, $codes) as $item) {
            $things[$item->code] = $item;
        }
        $rest = array_values(array_filter($codes, static fn (string $code): bool => !isset($things[$code])));
        $things += $this->captures->facts($viewer, $rest);

        $ordered = [];
        foreach ($codes as $code) {
            if (isset($things[$code])) {
                $ordered[$code] = $things[$code];
            }
        }

        return $ordered;
    }

    /**
     * @param array<array-key, Tie> $ties
     *
     * @return list<Tie> each once
     */
    private static function once(array $ties): array
    {
        $known = [];
        foreach ($ties as $tie) {
            $known[$tie->from.' '.$tie->to.' '.$tie->kind->value.' '.$tie->words] ??= $tie;
        }

        return array_values($known);
    }
}
