<?php

declare(strict_types=1);

namespace Ypomna\Core;

/** Texts in pieces. */
final class Split
{
    /**
     * @param non-empty-string $pattern
     *
     * @return list<string>
     *
     * @throws \InvalidArgumentException if the text is not of the encoding that the pattern wants
     */
    public static function by(string $pattern, string $text, int $limit = -1): array
    {
        $pieces = preg_split($pattern, $text, $limit);

        return false === $pieces ? throw new \InvalidArgumentException('The text cannot be split: '.preg_last_error_msg().'.') : $pieces;
    }

    /**
     * The same pieces one behind the other, so that a text of nothing but borders takes no more memory than one piece.
     *
     * @param non-empty-string $pattern
     * @param int $at where the piece that comes begins
     *
     * @return \Generator<int, string> numbered
     */
    public static function each(string $pattern, string $text, int &$at = 0): \Generator
    {
        $at = $number = 0;
        foreach (Matches::of($pattern, $text) as $border => $m) {
            yield $number++ => substr($text, $at, $border - $at);
            $at = $border + \strlen($m[0] ?? '');
        }
        yield $number => substr($text, $at);
    }

    /**
     * What stands between white space.
     *
     * @return list<string>
     */
    public static function words(string $text): array
    {
        return array_values(array_filter(self::by('/\s+/', $text), static fn (string $word): bool => '' !== $word));
    }

    /**
     * The pieces and, between them, what the bracketed parts of the pattern found; empty ones, too.
     *
     * @return list<string>
     */
    public static function keeping(string $pattern, string $text): array
    {
        $pieces = preg_split($pattern, $text, -1, \PREG_SPLIT_DELIM_CAPTURE);

        return false === $pieces ? [$text] : $pieces;
    }
}
