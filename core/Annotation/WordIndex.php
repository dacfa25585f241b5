<?php

declare(strict_types=1);

namespace Ypomna\Core\Annotation;

/**
 * Which passages of a page have which of the words that are looked for, so that those places are found that have most of them.
 *
 * @internal
 */
final class WordIndex
{
    /** Of a stretch of the page, on either side of its middle. */
    public const MOST_PASSAGES = 60;
    /** Places that are looked at closely. */
    private const MOST_WINDOWS = 10;
    /** A sign that stands in more passages than this finds nothing. */
    private const MOST_POSTINGS = 400;

    /** @var array<string, true> of the words that are looked for, those that stand on the page */
    private readonly array $words;
    /** @var array<string, list<int>> of signs, the passages of the page */
    private array $postings = [];

    /** @param list<Quote> $quotes all that will be looked for */
    public function __construct(private readonly PageText $page, array $quotes)
    {
        $words = [];
        foreach ($quotes as $quote) {
            $tokens = Tokens::ofQuote($quote);
            $words += array_fill_keys($tokens->texts, false);
            foreach (array_merge(...array_values($tokens->halves())) as $two) {
                $words += array_fill_keys($two, false);
            }
        }
        foreach ([] === $words ? [] : $this->page->passages as $passage) {
            foreach (Tokens::of($passage->text)->texts as $token) {
                if (isset($words[$token])) {
                    $words[$token] = true;
                }
            }
        }
        $this->words = array_filter($words);
        foreach ($quotes as $quote) {
            $this->postings += array_fill_keys(array_keys(Tokens::signs(Tokens::ofQuote($quote)->parted($this->words)->texts)), []);
        }
        $before = '';
        foreach ([] === $this->postings ? [] : $this->page->passages as $n => $passage) {
            $tokens = Tokens::of($passage->text)->texts;
            foreach (array_keys(Tokens::signs($tokens, $before)) as $sign) {
                if (isset($this->postings[$sign]) && \count($this->postings[$sign]) <= self::MOST_POSTINGS) {
                    $this->postings[$sign][] = $n;
                }
            }
            $before = [] === $tokens ? $before : $tokens[\count($tokens) - 1];
        }
    }

    /**
     * Stretches of the page that have most of the words.
     *
     * @param int|null $found the number of a passage that is looked at in any case
     *
     * @return list<Window> the likeliest first
     */
    public function windows(Quote $quote, ?int $found): array
    {
        $scores = [];
        $tokens = Tokens::ofQuote($quote)->parted($this->words);
        foreach (Tokens::signs($tokens->texts) as $sign => $weight) {
            $places = $this->postings[$sign] ?? [];
            if (\count($places) <= self::MOST_POSTINGS) {
                foreach ($places as $n) {
                    $scores[$n] = ($scores[$n] ?? 0) + $weight / sqrt(\count($places));
                }
            }
        }
        arsort($scores);
        $centres = \array_slice(array_keys($scores), 0, self::MOST_WINDOWS);
        if (null !== $found) {
            $centres[] = $found;
        }
        $weights = self::weights($tokens, $quote);
        $marked = \count(array_filter($tokens->starts, static fn (int $at): bool => $at < $quote->from));
        $windows = $seen = [];
        foreach (array_unique($centres) as $centre) {
            [$first, $last] = $this->stretch($centre, \strlen($quote->folded) + 60);
            if (isset($seen[$first.' '.$last])) {
                continue;
            }
            $seen[$first.' '.$last] = true;
            $new = Tokens::ofPassages($this->page, $first, $last);
            $pairs = LocalAlignment::of($tokens->texts, $new->texts, $weights, $marked);
            $windows[] = new Window(new Correspondence($tokens, $new, $pairs, false), $first, $last);
        }
        usort($windows, static fn (Window $a, Window $b): int => $b->score($quote) <=> $a->score($quote));

        return $windows;
    }

    /**
     * Where all stands that stood around, the words stood, whatever stands there now, and likenesses of theirs may stand beside: so the
     * words weigh at most a quarter of what stands around.
     *
     * @return list<int>
     */
    private static function weights(Tokens $tokens, Quote $quote): array
    {
        $weights = array_map(static fn (string $token): int => 10 * Tokens::weight($token), $tokens->texts);
        $own = array_keys(array_filter($tokens->starts, static fn (int $at): bool => $at >= $quote->from && $at < $quote->to));
        $words = $around = 0;
        foreach ($weights as $n => $weight) {
            $isOwn = $tokens->starts[$n] >= $quote->from && $tokens->starts[$n] < $quote->to;
            $words += $isOwn ? $weight : 0;
            $around += $isOwn ? 0 : $weight;
        }
        foreach ($own as $n) {
            $weights[$n] = max(1, $around > 0 ? min($weights[$n] - 1, intdiv($weights[$n] * $around, 4 * $words)) : $weights[$n]);
        }

        return array_values($weights);
    }

    /** @return array{int, int} passages around one, with so many bytes on either side */
    private function stretch(int $centre, int $bytes): array
    {
        $first = $last = $centre;
        while ($first > 0 && $centre - $first < self::MOST_PASSAGES
            && $this->page->startOf($centre) - $this->page->startOf($first) < $bytes) {
            --$first;
        }
        while ($last + 1 < $this->page->count() && $last - $centre < self::MOST_PASSAGES
            && $this->page->endOf($last) - $this->page->endOf($centre) < $bytes) {
            ++$last;
        }

        return [$first, $last];
    }
}
