<?php

declare(strict_types=1);

namespace Ypomna\App\Compare\Value;

use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\Core\Compare\ChangeKind;
use Ypomna\Core\Compare\ComparisonReport;
use Ypomna\Core\Compare\PassageChange;
use Ypomna\Core\Compare\WeighedChange;
use Ypomna\Core\Compare\Weight;
use Ypomna\Core\Page\Document;
use Ypomna\Core\Page\Passage;

/** Two captures and what differs between them. */
final readonly class ComparedCaptures
{
    /** Passages by whose places both pages scroll together. */
    private const ANCHORS = 80;
    private const MOST_MARKS = 1_500;

    public function __construct(
        public Capture $old,
        public Capture $new,
        public Document $before,
        public Document $after,
        public ComparisonReport $report,
    ) {
    }

    /**
     * Changes by weight, those in which a number, date, name or negation differs first, else in the order of the page.
     *
     * @return array<string, list<array{int, WeighedChange}>> with the number of each
     */
    public function byWeight(): array
    {
        $groups = [Weight::Substance->value => [], Weight::Surface->value => [], Weight::Noise->value => []];
        foreach ($this->report->changes as $n => $weighed) {
            $groups[$weighed->weight->value][] = [$n, $weighed];
        }
        usort(
            $groups[Weight::Substance->value],
            static fn (array $a, array $b): int => [[] === $a[1]->telling, $a[0]] <=> [[] === $b[1]->telling, $b[0]],
        );

        return $groups;
    }

    public function count(Weight $weight): int
    {
        return \count(array_filter($this->report->changes, static fn (WeighedChange $one): bool => $one->weight === $weight));
    }

    /**
     * What is marked in each page, in its reading order, and by which passages both are kept beside each other.
     *
     * @return array{old: list<array<string, mixed>>, new: list<array<string, mixed>>}
     */
    public function marks(): array
    {
        $changes = $this->report->comparison->changes;
        $partners = $this->report->comparison->partners;
        foreach ($changes as $change) {
            if (ChangeKind::Moved === $change->kind || $change->moved) {
                unset($partners[$change->oldAt ?? -1]);
            }
        }
        $anchors = [];
        $every = max(1, intdiv(\count($partners), self::ANCHORS));
        $n = 0;
        foreach ($partners as $i => $j) {
            if (0 === $n++ % $every && $this->before->passages[$i]->key === ($this->after->passages[$j]->key ?? '')) {
                $anchors[$i] = $j;
            }
        }

        return ['old' => $this->side($changes, $anchors, true), 'new' => $this->side($changes, array_flip($anchors), false)];
    }

    /**
     * @param list<PassageChange> $changes
     * @param array<int, int> $anchors
     *
     * @return list<array<string, mixed>>
     */
    private function side(array $changes, array $anchors, bool $isOld): array
    {
        $marks = [];
        foreach ($changes as $n => $change) {
            $at = $isOld ? $change->oldAt : $change->newAt;
            $passage = $isOld ? $change->old : $change->new;
            if (null === $at || null === $passage || $n >= self::MOST_MARKS) {
                continue;
            }
            $weighed = $this->report->changes[$n] ?? null;
            $words = ChangeKind::Changed === $change->kind ? self::words($change, $isOld) : null;
            $marks[] = [
                'at' => $at, 'n' => $n, 'kind' => $change->kind->value, 'noise' => Weight::Noise === $weighed?->weight,
                'text' => $passage->text, 'words' => $words, 'path' => self::selector($passage),
            ];
        }
        foreach ($anchors as $at => $partner) {
            $passage = ($isOld ? $this->before : $this->after)->passages[$at];
            $marks[] = ['at' => $at, 'anchor' => $isOld ? $at : $partner, 'text' => $passage->text];
        }
        usort($marks, static fn (array $a, array $b): int => $a['at'] <=> $b['at']);

        return $marks;
    }

    /**
     * @return list<array{string, bool}> pieces of the passage, and whether they are others on the other side
     */
    private static function words(PassageChange $change, bool $isOld): array
    {
        $words = [];
        foreach ($change->words() as $span) {
            if (null === $span->kind || $span->kind === ($isOld ? ChangeKind::Removed : ChangeKind::Added)) {
                $words[] = [$span->text, null !== $span->kind];
            }
        }

        return $words;
    }

    /** A short selector for the part of the page in which a passage stands. */
    public static function selector(Passage $passage): string
    {
        $steps = [];
        foreach (array_reverse(explode(' ', $passage->path)) as $step) {
            if (1 !== preg_match('/^([^#.:]+)(?:#([^.:]+))?((?:\.[^.:]+)*)(?::(\d+))?$/D', $step, $m) || 'html' === $m[1]
                || 'body' === $m[1]) {
                break;
            }
            $id = $m[2];
            $classes = $m[3];
            // Numbers in names change with the page.
            $hasName = ('' !== $id && 1 !== preg_match('/\d{2}/', $id)) || '' !== $classes;
            array_unshift(
                $steps,
                $m[1].('' !== $id && 1 !== preg_match('/\d{2}/', $id) ? '#'.$id : '').$classes
                    .($hasName || !isset($m[4]) || '1' === $m[4] ? '' : ':nth-of-type('.$m[4].')'),
            );
            if ($hasName || \count($steps) > 4) {
                break;
            }
        }

        return implode(' > ', $steps);
    }
}
