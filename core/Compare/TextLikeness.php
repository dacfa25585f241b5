<?php

declare(strict_types=1);

namespace Ypomna\Core\Compare;

/**
 * How much of two passages is the same, 0 to 1: by their words in any order, longer words weighing more, since every text shares
 * the short ones (Dice's coefficient over weighted bags). In scripts without spaces, by characters and pairs of them.
 */
final class TextLikeness
{
    /**
     * Passages up to this length are also compared by their letters: a name of one word has no other word in common with its new spelling.
     */
    private const SHORT = 60;
    /** Scripts that put no spaces between words. */
    private const UNSPACED = '\p{Han}\p{Hiragana}\p{Katakana}\p{Thai}\p{Lao}\p{Khmer}\p{Myanmar}ー';

    /** @var array<string, array{array<array-key, int>, int}> words, how often each occurs, and what they weigh together */
    private array $bags = [];

    public function of(string $old, string $new): float
    {
        if ($old === $new) {
            return 1.0;
        }
        [$before, $all] = $this->bag($old);
        [$after, $others] = $this->bag($new);
        if (0 === $all + $others) {
            return self::letters($old, $new);
        }
        if (\count($before) > \count($after)) {
            [$before, $after] = [$after, $before];
        }
        $common = 0;
        foreach ($before as $word => $times) {
            if (isset($after[$word])) {
                $common += min($times, $after[$word]) * self::weight((string) $word);
            }
        }
        $likeness = 2 * $common / ($all + $others);

        return \strlen($old) <= self::SHORT && \strlen($new) <= self::SHORT ? max($likeness, 0.95 * self::letters($old, $new)) : $likeness;
    }

    /**
     * @return list<string> the words of a passage by which others like it are found
     */
    public function words(string $text): array
    {
        return array_map(strval(...), array_keys($this->bag($text)[0]));
    }

    /**
     * @return array{array<array-key, int>, int}
     */
    private function bag(string $text): array
    {
        if (isset($this->bags[$text])) {
            return $this->bags[$text];
        }
        if (\count($this->bags) > 50_000) {
            $this->bags = [];
        }
        $plain = 1 !== preg_match('/[\x80-\xFF]/', $text);
        preg_match_all(
            $plain ? '/[a-z0-9]+/' : '/['.self::UNSPACED.']|(?:(?!['.self::UNSPACED.'])[\p{L}\p{M}\p{N}])+/u',
            $plain ? strtolower($text) : mb_strtolower($text),
            $m,
        );
        $words = $m[0];
        if (!$plain) {
            $last = '';
            foreach ($m[0] as $word) {
                if (3 === \strlen($word) && 1 === preg_match('/^['.self::UNSPACED.']$/Du', $word)) {
                    if ('' !== $last) {
                        $words[] = $last.$word;
                    }
                    $last = $word;
                } else {
                    $last = '';
                }
            }
        }
        $bag = array_count_values($words);
        $weight = 0;
        foreach ($bag as $word => $times) {
            $weight += $times * self::weight((string) $word);
        }

        return $this->bags[$text] = [$bag, $weight];
    }

    private static function weight(string $word): int
    {
        $length = \strlen($word);

        return $length <= 3 ? 2 : min(8, $length - 1);
    }

    private static function letters(string $old, string $new): float
    {
        $before = self::pairs($old);
        $after = self::pairs($new);
        $common = 0;
        foreach ($before as $pair => $times) {
            $common += min($times, $after[$pair] ?? 0);
        }
        $all = array_sum($before) + array_sum($after);

        return 0 === $all ? 0.0 : 2 * $common / $all;
    }

    /**
     * @return array<array-key, int> pairs of letters; figures and signs alone say nothing about likeness
     */
    private static function pairs(string $text): array
    {
        $letters = mb_str_split(mb_strtolower((string) preg_replace('/[^\p{L}\p{M} ]+/u', '', $text)));
        $pairs = [];
        for ($i = 1, $count = \count($letters); $i < $count; ++$i) {
            $pair = $letters[$i - 1].$letters[$i];
            $pairs[$pair] = 1 + ($pairs[$pair] ?? 0);
        }

        return $pairs;
    }
}
