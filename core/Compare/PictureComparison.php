<?php

declare(strict_types=1);

namespace Ypomna\Core\Compare;

use Ypomna\Core\Page\Picture;

/** Which pictures came, went, or were replaced. */
final readonly class PictureComparison
{
    /**
     * @param list<Picture> $added
     * @param list<Picture> $removed
     * @param list<array{Picture, Picture}> $changed another picture in the same place, or other bytes at the same address: before, after
     */
    private function __construct(public array $added, public array $removed, public array $changed)
    {
    }

    /**
     * @param list<Picture> $old
     * @param list<Picture> $new
     * @param array<string, string> $oldDigests of the files, by address, where they are known
     * @param array<string, string> $newDigests
     * @param array<int, int> $partners of passages of the old text, the one of the new text that it is now
     */
    public static function of(array $old, array $new, array $oldDigests = [], array $newDigests = [], array $partners = []): self
    {
        $stayed = Alignment::of(self::sources($old, $oldDigests), self::sources($new, $newDigests));
        // A picture that moved is none that came or went.
        $freeOld = array_diff_key($old, array_flip(array_column($stayed, 0)));
        $freeNew = array_diff_key($new, array_flip(array_column($stayed, 1)));
        $where = [];
        foreach ($freeNew as $j => $picture) {
            $where[self::name($picture, $newDigests)][] = $j;
        }
        $pairs = $stayed;
        foreach ($freeOld as $i => $picture) {
            $name = self::name($picture, $oldDigests);
            if ([] !== ($where[$name] ?? [])) {
                $j = array_shift($where[$name]);
                $pairs[] = [$i, $j];
                unset($freeOld[$i], $freeNew[$j]);
            }
        }
        $changed = [];
        foreach ($pairs as [$i, $j]) {
            $before = $oldDigests[$old[$i]->src] ?? null;
            $after = $newDigests[$new[$j]->src] ?? null;
            if (null !== $before && null !== $after && $before !== $after) {
                $changed[$j] = [$old[$i], $new[$j]];
            }
        }
        $changed += self::replaced($freeOld, $freeNew, $stayed, $partners, [\count($old), \count($new)]);
        ksort($changed);

        return new self(array_values($freeNew), array_values($freeOld), array_values($changed));
    }

    /**
     * Pairs pictures that stand in the same place: between the same neighbours, or before or behind the same passage. Those that are
     * paired are taken out of what came and went.
     *
     * @param array<int, Picture> $removed
     * @param array<int, Picture> $added
     * @param list<array{int, int}> $stayed
     * @param array<int, int> $partners
     * @param array{int, int} $counts
     *
     * @return array<int, array{Picture, Picture}>
     */
    private static function replaced(array &$removed, array &$added, array $stayed, array $partners, array $counts): array
    {
        $changed = [];
        $a = $b = 0;
        foreach ([...$stayed, $counts] as [$i, $j]) {
            $left = array_filter($removed, static fn (int $n): bool => $n >= $a && $n < $i, \ARRAY_FILTER_USE_KEY);
            $right = array_filter($added, static fn (int $n): bool => $n >= $b && $n < $j, \ARRAY_FILTER_USE_KEY);
            $pairs = [] === $left || [] === $right
                ? []
                : InOrder::pairs(
                    [...array_keys($left), -1],
                    [...array_keys($right), -1],
                    static fn (int $n, int $m): float => self::closeness(
                        $left[$n], $right[$m], $partners, \count($left) === \count($right),
                    ),
                    0.5,
                );
            foreach ($pairs as [$n, $m]) {
                $changed[$m] = [$removed[$n], $added[$m]];
                unset($removed[$n], $added[$m]);
            }
            [$a, $b] = [$i + 1, $j + 1];
        }

        return $changed;
    }

    /** @param array<int, int> $partners */
    private static function closeness(Picture $old, Picture $new, array $partners, bool $asMany): float
    {
        $stayed = array_flip($partners);
        // The nearest passages around that are there on both sides.
        $i = $old->behind - 1;
        $j = $new->behind - 1;
        for (; $i >= 0 && !isset($partners[$i]); --$i) {
        }
        for (; $j >= 0 && !isset($stayed[$j]); --$j) {
        }
        $place = ($partners[$i] ?? -1) === $j ? 0.5 : 0.0;
        $last = [max([$old->behind, ...array_keys($partners)]), max([$new->behind, ...$partners])];
        [$next, $then] = [$old->behind, $new->behind];
        for (; $next <= $last[0] && !isset($partners[$next]); ++$next) {
        }
        for (; $then <= $last[1] && !isset($stayed[$then]); ++$then) {
        }
        $place += ($partners[$next] ?? $then) === $then ? 0.4 : 0.0;
        $alike = '' !== $old->alt && $old->alt === $new->alt ? 0.4 : 0.0;
        $alike += self::file($old->src) === self::file($new->src) ? 0.3 : 0.0;
        // Where the words around it changed, too, its place among the pictures tells.
        $place += $asMany ? 0.15 : 0.0;

        return $place + $alike;
    }

    private static function file(string $src): string
    {
        return basename((string) preg_replace('/[?#].*$/sD', '', $src));
    }

    /**
     * @param list<Picture> $pictures
     * @param array<string, string> $digests
     *
     * @return list<string>
     */
    private static function sources(array $pictures, array $digests): array
    {
        return array_map(static fn (Picture $picture): string => self::name($picture, $digests), $pictures);
    }

    /**
     * Its address; of a part of a message its digest, since each message names its parts anew (RFC 2392).
     *
     * @param array<string, string> $digests
     */
    private static function name(Picture $picture, array $digests): string
    {
        return str_starts_with($picture->src, 'cid:') && isset($digests[$picture->src]) ? 'cid:'.$digests[$picture->src] : $picture->src;
    }

    public function isEmpty(): bool
    {
        return [] === $this->added && [] === $this->removed && [] === $this->changed;
    }
}
