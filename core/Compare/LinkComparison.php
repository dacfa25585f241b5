<?php

declare(strict_types=1);

namespace Ypomna\Core\Compare;

use Ypomna\Core\Page\Link;
use Ypomna\Core\Page\Text;

/** Which links came, went, or lead elsewhere now. */
final readonly class LinkComparison
{
    /**
     * @param list<Link> $added
     * @param list<Link> $removed
     * @param list<array{Link, Link}> $retargeted the same words with another address: before, after
     */
    private function __construct(public array $added, public array $removed, public array $retargeted)
    {
    }

    /**
     * @param list<Link> $old
     * @param list<Link> $new
     * @param array<int, int> $partners of passages of the old text, the one of the new text that it is now
     */
    public static function of(array $old, array $new, array $partners = []): self
    {
        [$removed, $added] = self::unequal($old, $new, $partners);
        $retargeted = [];
        // Of several links with the same words, the one in the same passage was led elsewhere; then the next in order.
        foreach ([true, false] as $samePassage) {
            $byText = [];
            foreach ($added as $j => $after) {
                $byText[self::words($after)][] = $j;
            }
            foreach ($removed as $i => $before) {
                $place = $partners[$before->passage] ?? null;
                foreach ($byText[self::words($before)] ?? [] as $n => $j) {
                    if ('' !== self::words($before) && (!$samePassage || (null !== $place && $place === $added[$j]->passage))) {
                        $retargeted[$i] = [$before, $added[$j]];
                        unset($removed[$i], $added[$j], $byText[self::words($before)][$n]);
                        break;
                    }
                }
            }
        }
        ksort($retargeted);

        return new self(array_values($added), array_values($removed), array_values($retargeted));
    }

    public function isEmpty(): bool
    {
        return [] === $this->added && [] === $this->removed && [] === $this->retargeted;
    }

    private static function words(Link $link): string
    {
        return Text::key($link->text);
    }

    /**
     * Links whose address does not occur as often on the other side; of several to the same address, those that have no counterpart
     * in words or place go first.
     *
     * @param list<Link> $old
     * @param list<Link> $new
     * @param array<int, int> $partners
     *
     * @return array{array<int, Link>, array<int, Link>}
     */
    private static function unequal(array $old, array $new, array $partners): array
    {
        $left = $right = [];
        foreach ($old as $i => $link) {
            $left[$link->href][$i] = $link;
        }
        foreach ($new as $j => $link) {
            $right[$link->href][$j] = $link;
        }
        $removed = $added = [];
        foreach ($left + $right as $href => $_) {
            [$before, $after] = [$left[$href] ?? [], $right[$href] ?? []];
            if (\count($before) !== \count($after) && [] !== $before && [] !== $after) {
                self::pairOff($before, $after, $partners);
            }
            $most = min(\count($before), \count($after));
            // What is left over stands at the end.
            $removed += \array_slice($before, $most, null, true);
            $added += \array_slice($after, $most, null, true);
        }
        ksort($removed);
        ksort($added);

        return [$removed, $added];
    }

    /**
     * Orders both sides so that links with the same words in the same passage come first, then those with the same words.
     *
     * @param array<int, Link> $before
     * @param array<int, Link> $after
     * @param array<int, int> $partners
     */
    private static function pairOff(array &$before, array &$after, array $partners): void
    {
        [$first, $second] = [[], []];
        foreach ([2, 1] as $closeness) {
            foreach ($before as $i => $one) {
                foreach ($after as $j => $other) {
                    $samePlace = ($partners[$one->passage] ?? -2) === $other->passage;
                    if ($one->text === $other->text && ($samePlace || 1 === $closeness)) {
                        $first[$i] = $one;
                        $second[$j] = $other;
                        unset($before[$i], $after[$j]);
                        break;
                    }
                }
                if (\count($first) > 500) {
                    break 2;
                }
            }
        }
        $before = $first + $before;
        $after = $second + $after;
    }
}
