<?php

declare(strict_types=1);

namespace Ypomna\Core\Compare;

use Ypomna\Core\Page\Passage;

/**
 * Finds text that reads the same and is only parted into passages otherwise: a list that became a paragraph, a line break that
 * was taken out.
 */
final class Regrouping
{
    private const MOST_PIECES = 200;
    private const MOST_CHANCES = 20;
    /** Bytes by which a piece is found. */
    private const BEGINNING = 6;

    /** @var array<int, string> texts without white space */
    private array $old = [];
    /** @var array<int, string> */
    private array $new = [];

    /**
     * @param list<Passage> $oldPassages
     * @param list<Passage> $newPassages
     */
    public function __construct(private readonly array $oldPassages, private readonly array $newPassages)
    {
    }

    /**
     * @param list<int> $old places between two fixed points
     * @param list<int> $new
     *
     * @return array{list<int>, list<int>} the places that read the same
     */
    public function find(array $old, array $new): array
    {
        foreach ($old as $i) {
            $this->old[$i] = str_replace(' ', '', $this->oldPassages[$i]->key);
        }
        $beginnings = [];
        foreach ($new as $at => $j) {
            $this->new[$j] = str_replace(' ', '', $this->newPassages[$j]->key);
            $beginnings[substr($this->new[$j], 0, self::BEGINNING)][] = $at;
        }
        $same = [[], []];
        $next = 0;
        for ($at = 0, $count = \count($old); $at < $count; ++$at) {
            foreach ($this->chances($this->old[$old[$at]], $new, $beginnings, $next) as $place) {
                $run = $this->run($old, $at, $new, $place);
                if (null !== $run) {
                    array_push($same[0], ...\array_slice($old, $at, $run[0]));
                    array_push($same[1], ...\array_slice($new, $place, $run[1]));
                    $at += $run[0] - 1;
                    $next = $place + $run[1];
                    break;
                }
            }
        }

        return $same;
    }

    /**
     * Where a piece may go on that begins like this one, which may be a short word.
     *
     * @param list<int> $new
     * @param array<array-key, list<int>> $beginnings places in that list, by what stands at the beginning there
     *
     * @return list<int>
     */
    private function chances(string $text, array $new, array $beginnings, int $next): array
    {
        $found = [];
        for ($length = 1; $length <= self::BEGINNING; ++$length) {
            $beginning = substr($text, 0, $length);
            // Shorter ones are all there is of a piece.
            foreach (self::BEGINNING === $length || \strlen($beginning) === $length ? $beginnings[$beginning] ?? [] : [] as $place) {
                if ($place >= $next && (self::BEGINNING === $length || \strlen($this->new[$new[$place]]) === $length)) {
                    $found[] = $place;
                }
            }
        }
        for ($place = $next, $count = \count($new);
            \strlen($text) < self::BEGINNING && $place < $count && \count($found) < self::MOST_CHANCES;
            ++$place) {
            if ('' !== $text && str_starts_with($this->new[$new[$place]], $text)) {
                $found[] = $place;
            }
        }
        sort($found);

        return \array_slice(array_values(array_unique($found)), 0, self::MOST_CHANCES);
    }

    /**
     * @param list<int> $old
     * @param list<int> $new
     *
     * @return array{int, int}|null how many pieces on both sides make up the same text
     */
    private function run(array $old, int $a, array $new, int $b): ?array
    {
        $before = $this->old[$old[$a]];
        $after = $this->new[$new[$b]];
        $i = $j = 1;
        while ($before !== $after) {
            if ($i + $j > self::MOST_PIECES) {
                return null;
            }
            if (\strlen($before) < \strlen($after)) {
                if (!str_starts_with($after, $before) || !isset($old[$a + $i])) {
                    return null;
                }
                $before .= $this->old[$old[$a + $i++]];
            } else {
                if (!str_starts_with($before, $after) || !isset($new[$b + $j])) {
                    return null;
                }
                $after .= $this->new[$new[$b + $j++]];
            }
        }

        return [$i, $j];
    }
}
