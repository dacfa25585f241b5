<?php

declare(strict_types=1);

namespace Ypomna\Core\Compare;

use Ypomna\Core\Page\Picture;

/** Which pictures came, went, or were replaced. */
final readonly class PictureComparison
{
    /**
     * @param list<Picture>                 $added
     * @param list<Picture>                 $removed
     * @param list<array{Picture, Picture}> $changed another picture in the same place, or other bytes at the same address: before, after
     */
    private function __construct(public array $added, public array $removed, public array $changed)
    {
    }

    /**
     * @param list<Picture>         $old
     * @param list<Picture>         $new
     * @param array<string, string> $oldDigests of the files, by address, where they are known
     * @param array<string, string> $newDigests
     */
    public static function of(array $old, array $new, array $oldDigests = [], array $newDigests = []): self
    {
        $changed = $added = $removed = [];
        $a = $b = 0;
        foreach ([...Alignment::of(self::sources($old), self::sources($new)), [\count($old), \count($new)]] as [$i, $j]) {
            for (; $a < $i && $b < $j; ++$a, ++$b) {
                $changed[] = [$old[$a], $new[$b]];
            }
            array_push($removed, ...\array_slice($old, $a, $i - $a));
            array_push($added, ...\array_slice($new, $b, $j - $b));
            if (isset($old[$i], $new[$j])) {
                $before = $oldDigests[$old[$i]->src] ?? null;
                $after = $newDigests[$new[$j]->src] ?? null;
                if (null !== $before && null !== $after && $before !== $after) {
                    $changed[] = [$old[$i], $new[$j]];
                }
            }
            [$a, $b] = [$i + 1, $j + 1];
        }

        return new self($added, $removed, $changed);
    }

    /**
     * @param list<Picture> $pictures
     *
     * @return list<string>
     */
    private static function sources(array $pictures): array
    {
        return array_map(static fn (Picture $picture): string => $picture->src, $pictures);
    }

    public function isEmpty(): bool
    {
        return [] === $this->added && [] === $this->removed && [] === $this->changed;
    }
}
