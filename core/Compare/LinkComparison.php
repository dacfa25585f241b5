<?php

declare(strict_types=1);

namespace Ypomna\Core\Compare;

use Ypomna\Core\Page\Link;

/** Which links came, went, or lead elsewhere now. */
final readonly class LinkComparison
{
    /**
     * @param list<Link>              $added
     * @param list<Link>              $removed
     * @param list<array{Link, Link}> $retargeted the same words with another address: before, after
     */
    private function __construct(public array $added, public array $removed, public array $retargeted)
    {
    }

    /**
     * @param list<Link> $old
     * @param list<Link> $new
     */
    public static function of(array $old, array $new): self
    {
        $removed = self::without($old, $new);
        $added = self::without($new, $old);
        $retargeted = [];
        foreach ($removed as $i => $before) {
            foreach ($added as $j => $after) {
                if ('' !== $before->text && $before->text === $after->text) {
                    $retargeted[] = [$before, $after];
                    unset($removed[$i], $added[$j]);
                    break;
                }
            }
        }

        return new self(array_values($added), array_values($removed), $retargeted);
    }

    public function isEmpty(): bool
    {
        return [] === $this->added && [] === $this->removed && [] === $this->retargeted;
    }

    /**
     * @param list<Link> $links
     * @param list<Link> $others
     *
     * @return array<int, Link> those whose address does not occur as often among the others
     */
    private static function without(array $links, array $others): array
    {
        $times = array_count_values(array_map(static fn (Link $link): string => $link->href, $others));
        $left = [];
        foreach ($links as $i => $link) {
            $times[$link->href] = ($times[$link->href] ?? 0) - 1;
            if ($times[$link->href] < 0) {
                $left[$i] = $link;
            }
        }

        return $left;
    }
}
