<?php

declare(strict_types=1);

namespace Ypomna\Core\Compare;

use Ypomna\Core\Page\Passage;

/**
 * Aligns the passages of two texts: what stayed, and of the rest what was reworded, moved, added, removed.
 */
final class TextComparison
{
    /** Passages with fewer words in common are not rewordings of each other. */
    private const LIKE = 0.5;
    /** Across the page a stricter measure holds: there chance finds more likenesses. */
    private const LIKE_ELSEWHERE = 0.7;
    private const MAX_PAIRS = 40_000;

    /**
     * @param list<Passage> $old
     * @param list<Passage> $new
     *
     * @return array{list<PassageChange>, float} the changes in reading order, and the likeness of the texts, 0 to 1
     */
    public static function of(array $old, array $new): array
    {
        $pairs = Alignment::of(self::keys($old), self::keys($new));
        $changes = [];
        $a = 0;
        $b = 0;
        foreach ([...$pairs, [\count($old), \count($new)]] as [$i, $j]) {
            array_push($changes, ...self::gap($old, $new, range($a, $i, 1), range($b, $j, 1)));
            [$a, $b] = [$i + 1, $j + 1];
        }
        $changes = self::findMoves($changes);

        return [$changes, self::similarity($old, $new, $changes)];
    }

    /**
     * @param list<Passage> $passages
     *
     * @return list<string>
     */
    private static function keys(array $passages): array
    {
        return array_map(static fn (Passage $passage): string => $passage->text, $passages);
    }

    /**
     * What lies between two passages that stayed: rewordings found in order, the rest removed and added.
     *
     * @param list<Passage> $old
     * @param list<Passage> $new
     * @param list<int>     $oldPlaces the gap's places, and one beyond
     * @param list<int>     $newPlaces
     *
     * @return list<PassageChange>
     */
    private static function gap(array $old, array $new, array $oldPlaces, array $newPlaces): array
    {
        array_pop($oldPlaces);
        array_pop($newPlaces);
        $partners = self::rewordings($old, $new, $oldPlaces, $newPlaces);
        $changes = [];
        $j = $newPlaces[0] ?? 0;
        $newEnd = $j + \count($newPlaces);
        foreach ($oldPlaces as $i) {
            $partner = $partners[$i] ?? null;
            if (null === $partner) {
                $changes[] = new PassageChange(ChangeKind::Removed, $old[$i], null, $i, null);
                continue;
            }
            for (; $j < $partner; ++$j) {
                $changes[] = new PassageChange(ChangeKind::Added, null, $new[$j], null, $j);
            }
            $changes[] = new PassageChange(ChangeKind::Changed, $old[$i], $new[$j], $i, $j);
            ++$j;
        }
        for (; $j < $newEnd; ++$j) {
            $changes[] = new PassageChange(ChangeKind::Added, null, $new[$j], null, $j);
        }

        return $changes;
    }

    /**
     * The pairing in order with the greatest likeness in all.
     *
     * @param list<Passage> $old
     * @param list<Passage> $new
     * @param list<int>     $oldPlaces
     * @param list<int>     $newPlaces
     *
     * @return array<int, int> place in the new text by place in the old one
     */
    private static function rewordings(array $old, array $new, array $oldPlaces, array $newPlaces): array
    {
        $rows = \count($oldPlaces);
        $columns = \count($newPlaces);
        if (0 === $rows || 0 === $columns || $rows * $columns > self::MAX_PAIRS) {
            return [];
        }
        $best = array_fill(0, $rows + 1, array_fill(0, $columns + 1, 0.0));
        $like = [];
        for ($i = $rows - 1; $i >= 0; --$i) {
            for ($j = $columns - 1; $j >= 0; --$j) {
                $like[$i][$j] = self::like($old[$oldPlaces[$i]], $new[$newPlaces[$j]]);
                $paired = $like[$i][$j] >= self::LIKE ? $like[$i][$j] + $best[$i + 1][$j + 1] : 0.0;
                $best[$i][$j] = max($paired, $best[$i + 1][$j], $best[$i][$j + 1]);
            }
        }
        $partners = [];
        for ($i = 0, $j = 0; $i < $rows && $j < $columns;) {
            if ($like[$i][$j] >= self::LIKE && $best[$i][$j] === $like[$i][$j] + $best[$i + 1][$j + 1]) {
                $partners[$oldPlaces[$i++]] = $newPlaces[$j++];
            } elseif ($best[$i][$j] === $best[$i + 1][$j]) {
                ++$i;
            } else {
                ++$j;
            }
        }

        return $partners;
    }

    private static function like(Passage $old, Passage $new): float
    {
        if ($old->kind !== $new->kind) {
            return 0.0;
        }
        $likeness = WordDiff::likeness($old->text, $new->text);

        // Short passages, a cell or a figure, share no words when they change; their place tells.
        return \in_array($old->kind->value, ['cell', 'heading', 'term'], true) ? max(self::LIKE, $likeness) : $likeness;
    }

    /**
     * A text removed in one place and added in another was moved, perhaps with a change.
     *
     * @param list<PassageChange> $changes
     *
     * @return list<PassageChange>
     */
    private static function findMoves(array $changes): array
    {
        $removed = [];
        foreach ($changes as $n => $change) {
            if (ChangeKind::Removed === $change->kind && null !== $change->old) {
                $removed[$change->old->text][] = $n;
            }
        }
        $dropped = [];
        foreach ($changes as $n => $change) {
            if (ChangeKind::Added === $change->kind && null !== $change->new && [] !== ($removed[$change->new->text] ?? [])) {
                $from = array_shift($removed[$change->new->text]);
                $changes[$n] = new PassageChange(ChangeKind::Moved, $changes[$from]->old, $change->new, $changes[$from]->oldAt, $change->newAt);
                $dropped[$from] = true;
            }
        }
        $left = array_keys(array_filter($changes, static fn (PassageChange $c): bool => ChangeKind::Removed === $c->kind));
        $left = array_values(array_filter($left, static fn (int $n): bool => !isset($dropped[$n])));
        $added = array_keys(array_filter($changes, static fn (PassageChange $c): bool => ChangeKind::Added === $c->kind));
        if (\count($left) * \count($added) <= self::MAX_PAIRS) {
            foreach ($added as $n) {
                self::joinMoved($changes, $left, $dropped, $n);
            }
        }

        return array_values(array_diff_key($changes, $dropped));
    }

    /**
     * @param array<int, PassageChange> $changes
     * @param list<int>                 $left
     * @param array<int, true>          $dropped
     */
    private static function joinMoved(array &$changes, array $left, array &$dropped, int $n): void
    {
        $best = self::LIKE_ELSEWHERE;
        $from = null;
        foreach ($left as $candidate) {
            $old = $changes[$candidate]->old;
            $new = $changes[$n]->new;
            if (isset($dropped[$candidate]) || null === $old || null === $new || $old->kind !== $new->kind || \strlen($old->text) < 20) {
                continue;
            }
            $likeness = WordDiff::likeness($old->text, $new->text);
            if ($likeness >= $best) {
                [$best, $from] = [$likeness, $candidate];
            }
        }
        if (null !== $from) {
            $changes[$n] = new PassageChange(ChangeKind::Changed, $changes[$from]->old, $changes[$n]->new, $changes[$from]->oldAt, $changes[$n]->newAt, true);
            $dropped[$from] = true;
        }
    }

    /**
     * @param list<Passage>       $old
     * @param list<Passage>       $new
     * @param list<PassageChange> $changes
     */
    private static function similarity(array $old, array $new, array $changes): float
    {
        $all = 0;
        foreach ([...$old, ...$new] as $passage) {
            $all += mb_strlen($passage->text);
        }
        $different = 0.0;
        foreach ($changes as $change) {
            $length = mb_strlen($change->old->text ?? '') + mb_strlen($change->new->text ?? '');
            $different += match ($change->kind) {
                ChangeKind::Added, ChangeKind::Removed => $length,
                ChangeKind::Moved => 0.2 * $length,
                ChangeKind::Changed => $length * (1 - WordDiff::likeness($change->old->text ?? '', $change->new->text ?? '')),
            };
        }

        return 0 === $all ? 1.0 : max(0.0, 1 - $different / $all);
    }
}
