<?php

declare(strict_types=1);

namespace Ypomna\Core\Compare;

use Ypomna\Core\Page\Passage;
use Ypomna\Core\Page\PassageKind;

/**
 * Aligns the passages of two texts: what stayed, and of the rest what was reworded, moved, added, removed.
 *
 * Tables are aligned first and stand in the sequence as one piece. Of what is equal on both sides, the run in order with the
 * most text stays; so of two things that changed places, the lesser moved.
 */
final class TextComparison
{
    /** Passages with less in common are not rewordings of each other. */
    private const LIKE = 0.5;
    /** Where nothing else stands between two that stayed, less will do. */
    private const LIKE_ALONE = 0.36;
    /** Across the page a stricter measure holds: there chance finds more likenesses. */
    private const LIKE_ELSEWHERE = 0.78;
    private const LIKE_OTHER_KIND = 0.65;
    /** Shorter texts, in bytes, stand in many places; that one went here and came there says nothing. */
    private const TELLING = 12;
    private const LONG = 40;
    private const MOST_CANDIDATES = 6;
    private const MOST_POSTINGS = 40;

    /** @var array<int, int> of old passages that stayed or were reworded or moved, the new one */
    private array $partners = [];
    /** @var array<int, true> old passages that stand elsewhere now */
    private array $moved = [];
    /** @var array<int, true> old passages whose text is parted otherwise now */
    private array $regrouped = [];
    /** @var array<int, true> places of both sides that are settled */
    private array $doneOld = [];
    /** @var array<int, true> */
    private array $doneNew = [];
    private readonly TextLikeness $likeness;

    /**
     * @param list<Passage> $old
     * @param list<Passage> $new
     */
    private function __construct(private readonly array $old, private readonly array $new)
    {
        $this->likeness = new TextLikeness();
    }

    /**
     * @param list<Passage> $old
     * @param list<Passage> $new
     */
    public static function of(array $old, array $new): TextDifference
    {
        $comparison = new self($old, $new);
        if (array_map(static fn (Passage $p): string => $p->key, $old) === array_map(static fn (Passage $p): string => $p->key, $new)) {
            return new TextDifference([], 1.0, array_keys($old));
        }
        $comparison->align();
        $changes = $comparison->changes();

        return new TextDifference($changes, $comparison->similarity($changes), $comparison->partners);
    }

    private function align(): void
    {
        $tables = new TableComparison($this->old, $this->new);
        [$before, $oldPlaces] = $this->sequence($this->old, array_flip(array_keys($tables->tables)));
        [$after, $newPlaces] = $this->sequence($this->new, array_flip(array_values($tables->tables)));
        $weights = $this->weights($before, $tables);
        $same = Alignment::of($before, $after, $weights);
        $tablesInOrder = [];
        foreach ($same as [$i, $j]) {
            if ("\x00" === ($before[$i][0] ?? '')) {
                $tablesInOrder[(int) substr($before[$i], 1)] = true;
            } else {
                $this->pair($oldPlaces[$i], $newPlaces[$j]);
            }
        }
        $gaps = self::gaps($same, $before, $after, $oldPlaces, $newPlaces);
        $this->regroup($gaps);
        $this->pairTables($tables, $tablesInOrder);
        $this->findMoves();
        foreach ($gaps as [$left, $right]) {
            $this->reword($left, $right);
        }
        $this->findRewordingsElsewhere();
    }

    /**
     * @param list<Passage> $passages
     * @param array<int, int> $tables of the tables that have a counterpart, what the pair is called
     *
     * @return array{list<string>, list<int>} keys, each paired table once, and their places among the passages
     */
    private function sequence(array $passages, array $tables): array
    {
        $keys = $places = $seen = [];
        foreach ($passages as $place => $passage) {
            $table = PassageKind::Cell === $passage->kind && null !== $passage->cell ? $passage->cell->table : null;
            if (null === $table || !isset($tables[$table])) {
                $keys[] = $passage->key;
                $places[] = $place;
            } elseif (!isset($seen[$table])) {
                $seen[$table] = true;
                $keys[] = "\x00".$tables[$table];
                $places[] = $place;
            }
        }

        return [$keys, $places];
    }

    /**
     * @param list<string> $keys
     *
     * @return array<array-key, int>
     */
    private function weights(array $keys, TableComparison $tables): array
    {
        $weights = [];
        foreach ($keys as $key) {
            $weights[$key] = 2 + \strlen($key);
        }
        $names = array_flip(array_keys($tables->tables));
        foreach ($tables->pairs as [$i]) {
            $name = "\x00".($names[$this->old[$i]->cell->table ?? -1] ?? '');
            $weights[$name] = ($weights[$name] ?? 0) + \strlen($this->old[$i]->key);
        }

        return $weights;
    }

    private function pair(int $i, int $j, bool $moved = false): void
    {
        $this->partners[$i] = $j;
        $this->doneOld[$i] = true;
        $this->doneNew[$j] = true;
        if ($moved) {
            $this->moved[$i] = true;
        }
    }

    /**
     * @param list<array{int, int}> $same
     * @param list<string> $before
     * @param list<string> $after
     * @param list<int> $oldPlaces
     * @param list<int> $newPlaces
     *
     * @return list<array{list<int>, list<int>}> what lies between pieces that stayed, as places among the passages
     */
    private static function gaps(array $same, array $before, array $after, array $oldPlaces, array $newPlaces): array
    {
        $gaps = [];
        $a = $b = 0;
        foreach ([...$same, [\count($before), \count($after)]] as [$i, $j]) {
            if ($i > $a || $j > $b) {
                $left = $right = [];
                for (; $a < $i; ++$a) {
                    if (!str_starts_with($before[$a], "\x00")) {
                        $left[] = $oldPlaces[$a];
                    }
                }
                for (; $b < $j; ++$b) {
                    if (!str_starts_with($after[$b], "\x00")) {
                        $right[] = $newPlaces[$b];
                    }
                }
                $gaps[] = [$left, $right];
            }
            [$a, $b] = [$i + 1, $j + 1];
        }

        return $gaps;
    }

    /**
     * @param list<array{list<int>, list<int>}> $gaps
     */
    private function regroup(array $gaps): void
    {
        $regrouping = new Regrouping($this->old, $this->new);
        foreach ($gaps as [$left, $right]) {
            if ([] !== $left && [] !== $right) {
                [$oldSame, $newSame] = $regrouping->find($left, $right);
                $this->doneOld += array_fill_keys($oldSame, true);
                $this->doneNew += array_fill_keys($newSame, true);
                foreach ($oldSame as $n => $i) {
                    $this->regrouped[$i] = true;
                    $this->partners[$i] = $newSame[min($n, \count($newSame) - 1)];
                }
            }
        }
    }

    /** @param array<int, true> $inOrder tables that stayed in their place */
    private function pairTables(TableComparison $tables, array $inOrder): void
    {
        $names = array_flip(array_keys($tables->tables));
        foreach ($tables->pairs as [$i, $j]) {
            $cell = $this->old[$i]->cell;
            $this->pair($i, $j, isset($tables->moved[$i]) || (null !== $cell && !isset($inOrder[$names[$cell->table] ?? -1])));
        }
    }

    /** What is equal and stands elsewhere. */
    private function findMoves(): void
    {
        $gone = $times = [];
        foreach ($this->old as $i => $passage) {
            if (!isset($this->doneOld[$i])) {
                $gone[$passage->key][] = $i;
            }
            $times[$passage->key] = 1 + ($times[$passage->key] ?? 0);
        }
        $timesNew = array_count_values(array_map(static fn (Passage $p): string => $p->key, $this->new));
        foreach ($this->new as $j => $passage) {
            $key = $passage->key;
            if (isset($this->doneNew[$j]) || [] === ($gone[$key] ?? [])) {
                continue;
            }
            $isOne = 1 === $times[$key] && 1 === $timesNew[$key];
            if ($isOne && !self::isLong($passage) && PassageKind::Cell !== $passage->kind
                && $this->old[$gone[$key][0]]->path === $passage->path && '' !== $passage->path) {
                // A few words that keep their place while others move past them: the number of a post, a label.
                $this->pair(array_shift($gone[$key]), $j);
                continue;
            }
            if ($isOne ? $this->isTelling($this->old[$gone[$key][0]], $passage) : \strlen($key) >= self::LONG
                && PassageKind::Cell !== $passage->kind) {
                $this->pair(array_shift($gone[$key]), $j, true);
            }
        }
    }

    /** Whether one text in two places is a move: a word that stands in every list is not, unless it is the same list. */
    private function isTelling(Passage $old, Passage $new): bool
    {
        if (PassageKind::Cell === $new->kind || PassageKind::Cell === $old->kind) {
            return \strlen($new->key) >= self::LONG;
        }

        return self::isLong($new) || ($old->kind === $new->kind && self::container($old) === self::container($new));
    }

    private static function isLong(Passage $passage): bool
    {
        return (\strlen($passage->key) >= self::TELLING && str_contains($passage->key, ' '))
            || (1 === preg_match('/[^\x00-\x7F]{4}/', $passage->key) && mb_strlen($passage->key) >= 6);
    }

    private static function container(Passage $passage): string
    {
        return (string) preg_replace('/ \S*$/D', '', $passage->path);
    }

    /**
     * @param list<int> $left
     * @param list<int> $right
     */
    private function reword(array $left, array $right): void
    {
        $left = array_values(array_filter($left, fn (int $i): bool => !isset($this->doneOld[$i])));
        $right = array_values(array_filter($right, fn (int $j): bool => !isset($this->doneNew[$j])));
        if ([] === $left || [] === $right) {
            return;
        }
        if (1 === \count($left) && 1 === \count($right)) {
            if ($this->likeAlone($this->old[$left[0]], $this->new[$right[0]])) {
                $this->pair($left[0], $right[0]);
            }

            return;
        }
        $sameShape = \count($left) === \count($right);
        foreach (InOrder::pairs(
            [...$left, -1], [...$right, -1], fn (int $i, int $j): float => $this->like($this->old[$i], $this->new[$j]), self::LIKE,
        ) as [$i, $j]) {
            $this->pair($i, $j);
        }
        // What is left alone between rewordings, or keeps its place among as many as there were.
        $this->rewordBetween($left, $right, $sameShape);
    }

    /**
     * @param list<int> $left
     * @param list<int> $right
     */
    private function rewordBetween(array $left, array $right, bool $sameShape): void
    {
        $places = array_flip($right);
        $a = $b = 0;
        $ends = [];
        foreach ($left as $n => $i) {
            if (isset($this->partners[$i], $places[$this->partners[$i]])) {
                $ends[] = [$n, $places[$this->partners[$i]]];
            }
        }
        foreach ([...$ends, [\count($left), \count($right)]] as [$n, $m]) {
            $alone = 1 === $n - $a && 1 === $m - $b;
            if ($alone || ($sameShape && $n - $a === $m - $b)) {
                for ($k = 0; $k < $n - $a; ++$k) {
                    $before = $this->old[$left[$a + $k]];
                    $after = $this->new[$right[$b + $k]];
                    if ($alone
                        ? $this->likeAlone($before, $after)
                        : (PassageKind::Cell === $before->kind && PassageKind::Cell === $after->kind)) {
                        $this->pair($left[$a + $k], $right[$b + $k]);
                    }
                }
            }
            $this->pairByPlace(\array_slice($left, $a, $n - $a), \array_slice($right, $b, $m - $b));
            [$a, $b] = [$n + 1, $m + 1];
        }
    }

    /**
     * As many headings, terms or captions as there were: each replaced the one in its place, whatever it says.
     *
     * @param list<int> $left
     * @param list<int> $right
     */
    private function pairByPlace(array $left, array $right): void
    {
        foreach ([PassageKind::Heading, PassageKind::Term, PassageKind::Caption] as $kind) {
            $before = array_values(array_filter($left, fn (int $i): bool => !isset($this->doneOld[$i]) && $this->old[$i]->kind === $kind));
            $after = array_values(array_filter($right, fn (int $j): bool => !isset($this->doneNew[$j]) && $this->new[$j]->kind === $kind));
            if (1 === \count($before) && 1 === \count($after)) {
                $this->pair($before[0], $after[0]);
            }
        }
    }

    private function like(Passage $old, Passage $new): float
    {
        $likeness = $this->likeness->of($old->key, $new->key);

        return $old->kind === $new->kind || $likeness >= self::LIKE_OTHER_KIND ? $likeness : 0.0;
    }

    private function likeAlone(Passage $old, Passage $new): bool
    {
        // The place tells what a short text without words in common replaced.
        if ($old->kind === $new->kind
            && \in_array($old->kind, [PassageKind::Cell, PassageKind::Heading, PassageKind::Term, PassageKind::Caption], true)) {
            return true;
        }
        // So it does of a word or two; but one item of a list may go and another come.
        $noWords = 1 !== preg_match('/\p{L}{3}/u', $old->key.$new->key)
            || (PassageKind::Item !== $old->kind
                && max(substr_count($old->key, ' '), substr_count($new->key, ' '), mb_strlen($old->key.$new->key) / 24) <= 1);

        return $old->kind === $new->kind && ($noWords || $this->likeness->of($old->key, $new->key) >= self::LIKE_ALONE)
            || $this->like($old, $new) >= self::LIKE;
    }

    /** What was reworded and stands elsewhere now, found by the rare words of both. */
    private function findRewordingsElsewhere(): void
    {
        $index = [];
        foreach ($this->old as $i => $passage) {
            if (!isset($this->doneOld[$i]) && \strlen($passage->key) >= 20) {
                foreach ($this->likeness->words($passage->key) as $word) {
                    $index[$word][] = $i;
                }
            }
        }
        $index = array_filter($index, static fn (array $places): bool => \count($places) <= self::MOST_POSTINGS);
        $found = [];
        foreach ($this->new as $j => $passage) {
            if (isset($this->doneNew[$j]) || \strlen($passage->key) < 20 || PassageKind::Cell === $passage->kind) {
                continue;
            }
            $shared = [];
            foreach ($this->likeness->words($passage->key) as $word) {
                foreach ($index[$word] ?? [] as $i) {
                    $shared[$i] = 1 + ($shared[$i] ?? 0);
                }
            }
            arsort($shared);
            foreach (\array_slice(array_keys($shared), 0, self::MOST_CANDIDATES) as $i) {
                $like = $this->like($this->old[$i], $passage);
                if ($like >= self::LIKE_ELSEWHERE) {
                    $found[] = [$like, $i, $j];
                }
            }
        }
        rsort($found);
        foreach ($found as [, $i, $j]) {
            if (!isset($this->doneOld[$i]) && !isset($this->doneNew[$j])) {
                $this->pair($i, $j, !$this->isInOrder($i, $j));
            }
        }
    }

    /** Whether a pair found afterwards keeps the order of what stayed around it. */
    private function isInOrder(int $i, int $j): bool
    {
        for ($k = $i - 1; $k >= 0; --$k) {
            if (isset($this->partners[$k]) && !isset($this->moved[$k])) {
                if ($this->partners[$k] > $j) {
                    return false;
                }
                break;
            }
        }
        for ($k = $i + 1, $count = \count($this->old); $k < $count; ++$k) {
            if (isset($this->partners[$k]) && !isset($this->moved[$k])) {
                return $this->partners[$k] > $j;
            }
        }

        return true;
    }

    /**
     * @return list<PassageChange> in reading order of the new text; what went, where it stood
     */
    private function changes(): array
    {
        $from = [];
        foreach ($this->partners as $i => $j) {
            $from[$j] ??= $i;
        }
        $changes = [];
        $a = 0;
        foreach ($this->new as $j => $passage) {
            $i = $from[$j] ?? null;
            if (null !== $i && !isset($this->moved[$i])) {
                for (; $a < $i; ++$a) {
                    $this->wentAt($a, $changes);
                }
            }
            if (!isset($this->doneNew[$j])) {
                // What went from here is told before what came.
                for (; isset($this->old[$a]) && (!isset($this->partners[$a]) || isset($this->moved[$a])); ++$a) {
                    $this->wentAt($a, $changes);
                }
                $changes[] = new PassageChange(ChangeKind::Added, null, $passage, null, $j);
            } elseif (null !== $i && $this->partners[$i] === $j) {
                $before = $this->old[$i];
                $moved = isset($this->moved[$i]);
                // Regrouped text is equal as a whole, not piece by piece.
                if ($before->key !== $passage->key && !isset($this->regrouped[$i])) {
                    $changes[] = new PassageChange(ChangeKind::Changed, $before, $passage, $i, $j, $moved);
                } elseif ($moved) {
                    $changes[] = new PassageChange(ChangeKind::Moved, $before, $passage, $i, $j);
                }
            }
        }
        for ($count = \count($this->old); $a < $count; ++$a) {
            $this->wentAt($a, $changes);
        }

        return $changes;
    }

    /** @param list<PassageChange> $changes */
    private function wentAt(int $i, array &$changes): void
    {
        if (!isset($this->doneOld[$i])) {
            $changes[] = new PassageChange(ChangeKind::Removed, $this->old[$i], null, $i, null);
        }
    }

    /** @param list<PassageChange> $changes */
    private function similarity(array $changes): float
    {
        $all = 0;
        foreach ([...$this->old, ...$this->new] as $passage) {
            $all += \strlen($passage->key);
        }
        $different = 0.0;
        foreach ($changes as $change) {
            $length = \strlen($change->old->key ?? '') + \strlen($change->new->key ?? '');
            $different += match ($change->kind) {
                ChangeKind::Added, ChangeKind::Removed => $length,
                ChangeKind::Moved => 0.2 * $length,
                ChangeKind::Changed => $length * min(1.0, 1.02 - $this->likeness->of($change->old->key ?? '', $change->new->key ?? '')),
            };
        }

        return 0 === $all ? ([] === $changes ? 1.0 : 0.0) : max(0.0, min(1.0, 1 - $different / $all));
    }
}
