<?php

declare(strict_types=1);

namespace Ypomna\Core\Compare;

use Ypomna\Core\Page\Passage;

/**
 * What changes at nearly every capture of a page, learned from its captures: such a place is noise for this page. A place is told
 * by the elements around it and by the words that stay when figures and names of days are left out.
 */
final class Habits
{
    /** Captures with fewer steps between them teach nothing. */
    private const FEWEST_STEPS = 4;
    private const MOST = 0.75;
    private const MOST_PLACES = 3_000;

    private int $steps = 0;
    /** @var array<string, int> how often something changed, by place */
    private array $changed = [];

    /** @param list<PassageChange> $changes between a capture and the next one */
    public function learn(array $changes): void
    {
        ++$this->steps;
        $places = [];
        foreach ($changes as $change) {
            foreach ([$change->old, $change->new] as $passage) {
                if (null !== $passage) {
                    $places[self::place($passage)] = true;
                }
            }
        }
        foreach (array_keys($places) as $place) {
            $this->changed[$place] = 1 + ($this->changed[$place] ?? 0);
        }
    }

    public function covers(PassageChange $change): bool
    {
        if ($this->steps < self::FEWEST_STEPS) {
            return false;
        }
        foreach ([$change->old, $change->new] as $passage) {
            if (null !== $passage && ($this->changed[self::place($passage)] ?? 0) < self::MOST * $this->steps) {
                return false;
            }
        }

        return true;
    }

    /**
     * Everything that was learned, to go on from.
     *
     * @return array{steps: int, changed: array<string, int>}
     */
    public function all(): array
    {
        // What changed once in many steps will not become a habit soon; it would only fill the memory.
        $least = \count($this->changed) > self::MOST_PLACES ? 2 : 1;

        return ['steps' => $this->steps, 'changed' => array_filter($this->changed, static fn (int $times): bool => $times >= $least)];
    }

    /** @param array<string, int> $changed */
    public static function of(int $steps, array $changed): self
    {
        $habits = new self();
        $habits->steps = $steps;
        $habits->changed = $changed;

        return $habits;
    }

    private static function place(Passage $passage): string
    {
        // Places among siblings shift when something is put in; ids and classes stay.
        $path = (string) preg_replace('/:\d+/', '', $passage->path);
        $words = mb_strlen($passage->text) <= 120
            ? (string) preg_replace(
                '/\p{N}+|\b(?:mon|tues?|wed(?:nes)?|thu(?:rs)?|fri|sat(?:ur)?|sun)(?:day)?\b|\b(?:jan|feb|mar|apr|may|jun|jul|aug|sep|'
                    .'oct|nov|dec)\w*\b/iu',
                '0',
                $passage->text,
            )
            : '';

        return substr(hash('sha256', $path."\x1F".$words), 0, 24);
    }
}
