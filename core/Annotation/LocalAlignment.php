<?php

declare(strict_types=1);

namespace Ypomna\Core\Annotation;

use Ypomna\Core\Compare\Alignment;

/**
 * Lays a short text into the place of a longer one where it fits best: of all stretches that match in order, the heaviest, less what
 * was put in or left out between (Smith and Waterman 1981).
 *
 * @internal
 */
final class LocalAlignment
{
    /** Beyond, anchors are used ({@see Alignment}); a byte each. */
    private const EXACT_CELLS = 1_500_000;
    /** What a token costs that was left out, and one that was put in. */
    private const LEFT_OUT = 1;
    private const PUT_IN = 3;
    /** What a match brings besides that follows right upon another on both sides. */
    private const IN_A_ROW = 1;

    /**
     * @param list<string> $old
     * @param list<string> $new
     * @param list<int> $weights what a match of each old token brings
     * @param int $marked the first old token that is marked
     *
     * @return list<array{int, int}> places of equal tokens, rising on both sides
     */
    public static function of(array $old, array $new, array $weights, int $marked): array
    {
        $rows = \count($old);
        $columns = \count($new);
        if (0 === $rows || 0 === $columns) {
            return [];
        }
        if ($rows * $columns > self::EXACT_CELLS) {
            return Alignment::of($old, $new, array_combine($old, $weights));
        }
        $ways = str_repeat("\0", $rows * $columns);
        $above = array_fill(0, $columns + 1, 0);
        $best = [0, -1, -1];
        for ($i = 0; $i < $rows; ++$i) {
            $line = [0];
            $left = 0;
            $token = $old[$i];
            $weight = $weights[$i] ?? 0;
            $base = $i * $columns;
            for ($j = 0; $j < $columns; ++$j) {
                $score = $above[$j + 1] - self::LEFT_OUT;
                $way = 'u';
                if ($left - self::PUT_IN > $score) {
                    $score = $left - self::PUT_IN;
                    $way = 'l';
                }
                if ($token === $new[$j]) {
                    $both = $above[$j] + $weight
                        + ($i > 0 && $j > 0 && 'd' === $ways[$base - $columns + $j - 1] ? self::IN_A_ROW : 0);
                    if ($both >= $score) {
                        $score = $both;
                        $way = 'd';
                    }
                }
                if ($score > 0) {
                    $ways[$base + $j] = $way;
                    if ($score > $best[0]) {
                        $best = [$score, $i, $j];
                    }
                } else {
                    $score = 0;
                }
                $line[] = $left = $score;
            }
            $above = $line;
        }
        $pairs = [];
        for ([, $i, $j] = $best; $i >= 0 && $j >= 0 && "\0" !== ($way = $ways[$i * $columns + $j]);) {
            if ('d' === $way) {
                $pairs[] = [$i--, $j--];
            } elseif ('u' === $way) {
                --$i;
            } else {
                --$j;
            }
        }

        return self::close(array_reverse($pairs), $old, $marked);
    }

    /**
     * What could belong to either side of marked words that were taken out is drawn to what stood before them, as the full stop of a
     * sentence behind which another stood.
     *
     * @param list<array{int, int}> $pairs
     * @param list<string> $old
     *
     * @return list<array{int, int}>
     */
    private static function close(array $pairs, array $old, int $marked): array
    {
        foreach ($pairs as $n => [$i, $j]) {
            $before = $pairs[$n - 1] ?? null;
            if (null !== $before && $before[0] + 1 < $marked && $before[1] + 1 === $j && $i > $before[0] + 1
                && $old[$before[0] + 1] === $old[$i]) {
                $pairs[$n] = [$before[0] + 1, $j];
            }
        }

        return $pairs;
    }
}
