<?php

declare(strict_types=1);

namespace Ypomna\Core\Citation;

/** An address in a stretch of text. */
final readonly class Spot
{
    /**
     * @param string $url as it is written, entities and escapes taken off
     * @param int $at where it, or what is linked, begins in the text of the stretch, in bytes
     * @param int $length of it in that text, in bytes
     * @param string $label what is linked, or the address itself
     * @param array<string, int|string|list<int>|null> $place where it stands in the source, as the draft that found it needs it
     */
    public function __construct(public string $url, public int $at, public int $length, public string $label, public array $place)
    {
    }

    /**
     * Of addresses that were found in a text those that lie in none of its spots.
     *
     * @param list<array{string, int}> $found addresses and where they begin, in rising order
     * @param list<self> $spots
     *
     * @return list<array{string, int}>
     */
    public static function free(array $found, array $spots): array
    {
        usort($spots, static fn (self $a, self $b): int => $a->at <=> $b->at);
        $free = [];
        $next = $taken = 0;
        foreach ($found as [$written, $at]) {
            for (; $next < \count($spots) && $spots[$next]->at < $at + \strlen($written); ++$next) {
                $taken = max($taken, $spots[$next]->at + $spots[$next]->length);
            }
            if ($taken <= $at) {
                $free[] = [$written, $at];
            }
        }

        return $free;
    }
}
