<?php

declare(strict_types=1);

namespace Ypomna\Core;

/** Matches of a pattern one behind the other, so that a text full of them takes no more memory than one. */
final class Matches
{
    /**
     * @param non-empty-string $pattern
     * @param int $most how many are looked for
     *
     * @return \Generator<int, array<string>> groups of each match, '' where one took no part, by the byte at which it begins
     */
    public static function of(string $pattern, string $text, int $most = \PHP_INT_MAX): \Generator
    {
        $at = 0;
        while ($most-- > 0 && 1 === preg_match($pattern, $text, $m, \PREG_OFFSET_CAPTURE, $at)) {
            [$whole, $begins] = $m[0];
            yield $begins => array_map(static fn (array $group): string => $group[0], $m);
            $at = $begins + max(1, \strlen($whole));
            if ($at > \strlen($text)) {
                return;
            }
        }
    }
}
