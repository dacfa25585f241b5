<?php

declare(strict_types=1);

namespace Ypomna\Core\Compare;

use Ypomna\Core\Page\Text;

/** Which words of a passage are others. */
final class WordDiff
{
    /**
     * @return list<WordSpan>
     */
    public static function between(string $old, string $new): array
    {
        $before = Text::words($old);
        $after = Text::words($new);
        $spans = [];
        $a = 0;
        $b = 0;
        foreach ([...Alignment::of($before, $after), [\count($before), \count($after)]] as [$i, $j]) {
            self::add($spans, ChangeKind::Removed, implode('', \array_slice($before, $a, $i - $a)));
            self::add($spans, ChangeKind::Added, implode('', \array_slice($after, $b, $j - $b)));
            self::add($spans, null, $before[$i] ?? '');
            [$a, $b] = [$i + 1, $j + 1];
        }

        return self::withoutCrumbs($spans);
    }

    /**
     * How much of two passages is the same, 0 to 1: by their words, in any order.
     */
    public static function likeness(string $old, string $new): float
    {
        $before = self::bag($old);
        $after = self::bag($new);
        $common = 0;
        foreach ($before as $word => $times) {
            $common += min($times, $after[$word] ?? 0);
        }
        $all = array_sum($before) + array_sum($after);

        return 0 === $all ? 1.0 : 2 * $common / $all;
    }

    /**
     * @return array<array-key, int> words, in scripts without spaces pairs of characters, and how often each occurs
     */
    private static function bag(string $text): array
    {
        preg_match_all('/[\p{Han}\p{Hiragana}\p{Katakana}\p{Thai}]|[\p{L}\p{M}\p{N}]+/u', mb_strtolower($text), $m);

        return array_count_values($m[0]);
    }

    /**
     * @param list<WordSpan> $spans
     */
    private static function add(array &$spans, ?ChangeKind $kind, string $text): void
    {
        if ('' === $text) {
            return;
        }
        $last = array_key_last($spans);
        if (null !== $last && $spans[$last]->kind === $kind) {
            $spans[$last] = new WordSpan($kind, $spans[$last]->text.$text);
        } else {
            $spans[] = new WordSpan($kind, $text);
        }
    }

    /**
     * A blank that stands alone between two changed runs is no common ground: the runs are joined over it.
     *
     * @param list<WordSpan> $spans
     *
     * @return list<WordSpan>
     */
    private static function withoutCrumbs(array $spans): array
    {
        $out = [];
        $removed = '';
        $added = '';
        $count = \count($spans);
        foreach ($spans as $i => $span) {
            $crumb = null === $span->kind && ' ' === $span->text && ('' !== $removed || '' !== $added) && $i + 1 < $count;
            if (ChangeKind::Removed === $span->kind || $crumb) {
                $removed .= $span->text;
            }
            if (ChangeKind::Added === $span->kind || $crumb) {
                $added .= $span->text;
            }
            if (null === $span->kind && !$crumb) {
                self::flush($out, $removed, $added);
                self::add($out, null, $span->text);
            }
        }
        self::flush($out, $removed, $added);

        return $out;
    }

    /**
     * @param list<WordSpan> $out
     */
    private static function flush(array &$out, string &$removed, string &$added): void
    {
        // The blank that was taken along on both sides goes back where nothing follows it.
        $tail = str_ends_with($removed, ' ') && str_ends_with($added, ' ') ? ' ' : '';
        self::add($out, ChangeKind::Removed, '' === $tail ? $removed : substr($removed, 0, -1));
        self::add($out, ChangeKind::Added, '' === $tail ? $added : substr($added, 0, -1));
        self::add($out, null, $tail);
        $removed = $added = '';
    }
}
