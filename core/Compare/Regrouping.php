<?php

declare(strict_types=1);

namespace Ypomna\Core\Compare;

/**
 * Finds text that reads the same and is only parted into passages otherwise: a list that became a paragraph, a line break that
 * was taken out.
 */
final class Regrouping
{
    private const MOST_PIECES = 200;
    private const MOST_CHANCES = 20;

    /** @var list<string> texts without white space */
    private readonly array $old;
    /** @var list<string> */
    private readonly array $new;

    /**
     * @param list<string> $old
     * @param list<string> $new
     */
    public function __construct(array $old, array $new)
    {
        $this->old = array_map(self::dense(...), $old);
        $this->new = array_map(self::dense(...), $new);
    }

    /**
     * @param list<int> $old places between two fixed points
     * @param list<int> $new
     *
     * @return array{list<int>, list<int>} the places that read the same
     */
    public function find(array $old, array $new): array
    {
        $beginnings = [];
        foreach ($new as $at => $j) {
            $beginnings[substr($this->new[$j], 0, 6)][] = $at;
        }
        $same = [[], []];
        $next = 0;
        for ($at = 0, $count = \count($old); $at < $count; ++$at) {
            $chances = array_filter($beginnings[substr($this->old[$old[$at]], 0, 6)] ?? [], static fn (int $place): bool => $place >= $next);
            foreach (\array_slice($chances, 0, self::MOST_CHANCES) as $place) {
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

    private static function dense(string $text): string
    {
        return str_replace(' ', '', $text);
    }
}
