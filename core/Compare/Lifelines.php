<?php

declare(strict_types=1);

namespace Ypomna\Core\Compare;

use Ypomna\Core\Page\CellPlace;
use Ypomna\Core\Page\Passage;
use Ypomna\Core\Page\PassageKind;

/**
 * When each passage of a page appeared, changed and went, over all its captures. Captures are added one by one, in time; each is
 * compared with the one before, so a history of n captures costs n comparisons, and one more capture costs one.
 */
final class Lifelines
{
    private const VERSION = 1;
    private const MOST_LINES = 20_000;

    /** @var list<array{id: int, at: string}> captures, in time */
    private array $captures = [];
    /** @var list<Lifeline> */
    private array $lines = [];
    /** @var list<int> the line of each passage of the capture that was added last */
    private array $current = [];
    /** @var list<Passage> */
    private array $passages = [];
    /** @var array<string, int> lines that ended, by their last wording */
    private array $ended = [];
    private Habits $habits;

    public function __construct()
    {
        $this->habits = new Habits();
    }

    /**
     * @param int $id of the capture
     * @param string $at its moment
     * @param list<Passage> $passages
     */
    public function add(int $id, string $at, array $passages): void
    {
        $this->captures[] = ['id' => $id, 'at' => $at];
        $number = \count($this->captures) - 1;
        $difference = TextComparison::of($this->passages, $passages);
        if ($number > 0) {
            $this->habits->learn($difference->changes);
        }
        $lineOf = [];
        foreach ($difference->partners as $i => $j) {
            $lineOf[$j] ??= $this->current[$i] ?? null;
        }
        $current = $stands = [];
        foreach ($passages as $j => $passage) {
            $line = $lineOf[$j] ?? $this->back($passage);
            if (null === $line || isset($stands[$line])) {
                $line = $this->begin($passage, $number);
            } else {
                $this->goOn($line, $passage, $number);
            }
            $stands[$line] = true;
            $current[] = $line;
        }
        foreach ($this->current as $line) {
            if (!isset($stands[$line])) {
                $this->ended[self::key($this->passages, $this->current, $line)] = $line;
            }
        }
        $this->current = $current;
        $this->passages = $passages;
    }

    /**
     * @param list<Passage> $passages
     * @param list<int> $current
     */
    private static function key(array $passages, array $current, int $line): string
    {
        $place = array_search($line, $current, true);

        return false === $place ? '' : $passages[$place]->kind->value.$passages[$place]->key;
    }

    /** A line that ended with that very text goes on; short texts stand in many places. */
    private function back(Passage $passage): ?int
    {
        $key = $passage->kind->value.$passage->key;
        $line = \strlen($passage->key) >= 20 ? $this->ended[$key] ?? null : null;
        if (null !== $line) {
            unset($this->ended[$key]);
        }

        return $line;
    }

    private function begin(Passage $passage, int $number): int
    {
        if (\count($this->lines) >= self::MOST_LINES) {
            return self::MOST_LINES - 1;
        }
        $this->lines[] = new Lifeline($passage->kind->value, $passage->heading, [[$number, $passage->text]], [[$number, $number]]);

        return \count($this->lines) - 1;
    }

    private function goOn(int $line, Passage $passage, int $number): void
    {
        $one = $this->lines[$line];
        $last = \count($one->spans) - 1;
        $spans = $one->spans;
        if ($spans[$last][1] === $number - 1) {
            $spans[$last][1] = $number;
        } else {
            $spans[] = [$number, $number];
        }
        $one->spans = array_values($spans);
        $one->heading = $passage->heading;
        if ($one->wordings[\count($one->wordings) - 1][1] !== $passage->text) {
            $one->wordings[] = [$number, $passage->text];
        }
    }

    /**
     * @return list<array{id: int, at: string}>
     */
    public function captures(): array
    {
        return $this->captures;
    }

    public function habits(): Habits
    {
        return $this->habits;
    }

    /**
     * Lines in the order of the page as it was read last; those that ended follow what they stood behind.
     *
     * @return list<Lifeline>
     */
    public function byPlace(): array
    {
        $place = [];
        foreach ($this->current as $n => $line) {
            $place[$line] ??= (float) $n;
        }
        // Lines were begun in the order of their pages: one that ended keeps its place behind the one before it.
        $behind = -1.0;
        foreach (array_keys($this->lines) as $line) {
            $place[$line] ??= $behind + 0.0001;
            $behind = $place[$line];
        }
        $order = array_keys($this->lines);
        usort($order, static fn (int $a, int $b): int => [$place[$a], $a] <=> [$place[$b], $b]);

        return array_map(fn (int $line): Lifeline => $this->lines[$line], $order);
    }

    /**
     * @return list<Lifeline> those that came first, first
     */
    public function byTime(): array
    {
        $lines = $this->lines;
        usort($lines, static fn (Lifeline $a, Lifeline $b): int => [$a->first(), $a->last()] <=> [$b->first(), $b->last()]);

        return $lines;
    }

    public function pack(): string
    {
        return (string) gzcompress(json_encode([
            'version' => self::VERSION, 'captures' => $this->captures, 'current' => $this->current, 'ended' => $this->ended,
            'habits' => $this->habits->all(),
            'lines' => array_map(
                static fn (Lifeline $line): array => [$line->kind, $line->heading, $line->wordings, $line->spans], $this->lines,
            ),
            'passages' => array_map(
                static fn (Passage $p): array => [
                    $p->kind->value,
                    $p->text,
                    null === $p->cell ? null : [$p->cell->table, $p->cell->row, $p->cell->column, $p->cell->isHeader],
                    $p->heading,
                    $p->path,
                    $p->block,
                ],
                $this->passages,
            ),
        ], \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_UNICODE | \JSON_INVALID_UTF8_SUBSTITUTE), 3);
    }

    /** @return self|null null where it was written by another version, so that it has to be made anew */
    public static function unpack(string $packed): ?self
    {
        $json = @gzuncompress($packed, 256 * 1_048_576);
        /**
         * @var array{
         *     version: int, captures: list<array{id: int, at: string}>, current: list<int>, ended: array<string, int>,
         *     habits: array{steps: int, changed: array<string, int>},
         *     lines: list<array{string, string, list<array{int, string}>, list<array{int, int}>}>,
         *     passages: list<array{string, string, array{int, int, int, bool}|null, string, string, int}>,
         * }|null $data
         */
        $data = false === $json ? null : json_decode($json, true);
        if (!\is_array($data) || self::VERSION !== $data['version']) {
            return null;
        }
        $lifelines = new self();
        $lifelines->captures = $data['captures'];
        $lifelines->current = $data['current'];
        $lifelines->ended = $data['ended'];
        $lifelines->habits = Habits::of($data['habits']['steps'], $data['habits']['changed']);
        $lifelines->lines = array_map(static fn (array $line): Lifeline => new Lifeline(...$line), $data['lines']);
        $lifelines->passages = array_map(
            static fn (array $p): Passage => new Passage(
                PassageKind::from($p[0]), $p[1], null === $p[2] ? null : new CellPlace(...$p[2]), $p[3], $p[4], $p[5],
            ),
            $data['passages'],
        );

        return $lifelines;
    }
}
