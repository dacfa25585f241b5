<?php

declare(strict_types=1);

namespace Ypomna\Core\Liveness;

use Ypomna\Core\Compare\TextLikeness;
use Ypomna\Core\Page\MainText;

/**
 * How much the main text has in common with the one that is held. Texts of one language and subject share their words; what
 * articles that are the same share as well is words in a row, or their headline.
 */
final readonly class Sameness
{
    private const WORDS = 0.35;
    private const RUNS = 0.33;
    private const REWRITTEN = 0.5;
    private const RUN = 4;
    private const LONGEST = 60_000;

    private function __construct(public float $share, public bool $isSame)
    {
    }

    public static function of(MainText $held, MainText $now): self
    {
        [$old, $new] = [self::plain($held->text), self::plain($now->text)];
        $words = (new TextLikeness())->of($old, $new);
        if (!$held->isArticle) {
            return new self($words, $words >= self::WORDS);
        }
        $runs = self::runs($old, $new);
        $headline = '' !== $held->title && mb_strtolower(trim($held->title)) === mb_strtolower(trim($now->title));

        return new self(
            max($runs, $headline ? $words : 0.0),
            $words >= self::WORDS && ($runs >= self::RUNS || ($headline && $words >= self::REWRITTEN)),
        );
    }

    /** What share of the runs of words of the shorter text stands in the other. */
    private static function runs(string $old, string $new): float
    {
        [$a, $b] = [self::runsOf($old), self::runsOf($new)];
        $least = min(\count($a), \count($b));

        return 0 === $least ? 0.0 : \count(array_intersect_key($a, $b)) / $least;
    }

    /**
     * @return array<string, true>
     */
    private static function runsOf(string $text): array
    {
        preg_match_all(
            '/[\p{Han}\p{Hiragana}\p{Katakana}\p{Thai}]|(?:(?![\p{Han}\p{Hiragana}\p{Katakana}\p{Thai}])[\p{L}\p{M}\p{N}])+/u',
            mb_strtolower($text),
            $m,
        );
        $words = $m[0];
        $runs = [];
        for ($n = 0; $n + self::RUN <= \count($words); ++$n) {
            $runs[implode(' ', \array_slice($words, $n, self::RUN))] = true;
        }

        return $runs;
    }

    private static function plain(string $text): string
    {
        return mb_strcut((string) preg_replace('/\s+/', ' ', $text), 0, self::LONGEST);
    }
}
