<?php

declare(strict_types=1);

namespace Ypomna\Core\Compare;

/** Where the pictures of two pages differ: aligned block by block, so that what was put in at the top changes nothing below. */
final readonly class LookComparison
{
    /** @param list<LookRegion> $regions from the top on */
    private function __construct(public array $regions)
    {
    }

    public static function of(PageRows $old, PageRows $new): self
    {
        [$before, $after] = [$old->blocks(), $new->blocks()];
        $keys = [array_map($old->key(...), $before), array_map($new->key(...), $after)];
        $weights = [];
        foreach ($before as $n => $block) {
            $weights[$keys[0][$n]] = 1 + $block[1];
        }
        $same = Alignment::of($keys[0], $keys[1], $weights);
        $regions = [];
        $a = $b = 0;
        $free = array_diff_key(array_flip($keys[0]), array_flip(array_map(static fn (array $pair): string => $keys[0][$pair[0]], $same)));
        $moved = [];
        foreach ([...$same, [\count($before), \count($after)]] as [$i, $j]) {
            $left = range($a, $i, 1);
            $right = range($b, $j, 1);
            $pairs = InOrder::pairs(
                $left,
                $right,
                static fn (int $n, int $m): float => $before[$n][1] === $after[$m][1]
                    ? 0.9
                    : 0.5 * min($before[$n][1], $after[$m][1]) / max(1, $before[$n][1], $after[$m][1]),
                0.3,
            );
            $partner = array_column($pairs, 1, 0);
            $taken = array_flip($partner);
            for (; $a < $i; ++$a) {
                if (isset($partner[$a])) {
                    $m = $partner[$a];
                    $between = $old->difference($before[$a], $new, $after[$m]);
                    $regions[] = new LookRegion(
                        ChangeKind::Changed, self::box($old, $before[$a], $between), self::box($new, $after[$m], $between),
                    );
                } elseif (!\in_array($keys[0][$a], $keys[1], true)) {
                    $regions[] = new LookRegion(ChangeKind::Removed, self::box($old, $before[$a]), null);
                }
            }
            for (; $b < $j; ++$b) {
                if (isset($taken[$b])) {
                    continue;
                }
                $from = $free[$keys[1][$b]] ?? null;
                $regions[] = null === $from || isset($moved[$from])
                    ? new LookRegion(ChangeKind::Added, null, self::box($new, $after[$b]))
                    : new LookRegion(ChangeKind::Moved, self::box($old, $before[$from]), self::box($new, $after[$b]));
                if (null !== $from) {
                    $moved[$from] = true;
                }
            }
            [$a, $b] = [$i + 1, $j + 1];
        }

        return new self($regions);
    }

    /**
     * @param array{int, int} $block
     * @param array{float, float} $between
     *
     * @return array{int, int, int, int}
     */
    private static function box(PageRows $page, array $block, array $between = [0.0, 1.0]): array
    {
        return [(int) ($between[0] * $page->width), $block[0], (int) ceil(($between[1] - $between[0]) * $page->width), $block[1]];
    }
}
