<?php

declare(strict_types=1);

namespace Ypomna\Core\Compare;

use Ypomna\Core\Page\Passage;

/** What two texts have in common, in the order of the first: who may have copied from whom. */
final readonly class SharedText
{
    private const LIKE = 0.6;
    private const SHORTEST = 20;
    private const MOST_POSTINGS = 60;

    /**
     * @param list<array{Passage, Passage, float}> $passages of the first and the second text, and how alike they are
     * @param float $ofFirst share of the first text that stands in the second, too
     */
    private function __construct(public array $passages, public float $ofFirst, public float $ofSecond)
    {
    }

    /**
     * @param list<Passage> $first
     * @param list<Passage> $second
     */
    public static function of(array $first, array $second): self
    {
        $likeness = new TextLikeness();
        $index = [];
        foreach ($second as $j => $passage) {
            foreach (\strlen($passage->key) >= self::SHORTEST ? $likeness->words($passage->key) : [] as $word) {
                $index[$word][] = $j;
            }
        }
        $index = array_filter($index, static fn (array $places): bool => \count($places) <= self::MOST_POSTINGS);
        $shared = [];
        $taken = [];
        foreach ($first as $passage) {
            if (\strlen($passage->key) < self::SHORTEST) {
                continue;
            }
            $times = [];
            foreach ($likeness->words($passage->key) as $word) {
                foreach ($index[$word] ?? [] as $j) {
                    $times[$j] = 1 + ($times[$j] ?? 0);
                }
            }
            arsort($times);
            $best = [self::LIKE, null];
            foreach (\array_slice(array_keys($times), 0, 6) as $j) {
                $like = $likeness->of($passage->key, $second[$j]->key);
                if (!isset($taken[$j]) && $like >= $best[0]) {
                    $best = [$like, $j];
                }
            }
            if (null !== $best[1]) {
                $taken[$best[1]] = true;
                $shared[] = [$passage, $second[$best[1]], $best[0]];
            }
        }

        return new self(
            $shared,
            self::length(array_column($shared, 0)) / self::length($first),
            self::length(array_column($shared, 1)) / self::length($second),
        );
    }

    /** @param list<Passage> $passages */
    private static function length(array $passages): int
    {
        return max(1, array_sum(array_map(static fn (Passage $passage): int => \strlen($passage->key), $passages)));
    }
}
