<?php

declare(strict_types=1);

namespace Ypomna\Core\Citation;

use Ypomna\Core\Split;

/** How well a page bears out what a reference says of it: its quotations are looked for, and its telling words. */
final readonly class Fit
{
    /** A quotation of which so many of its words stand together is there, but for a few. */
    private const NEARLY = 0.75;
    private const TEXT = 2_000_000;
    private const FEW = 3;

    /**
     * @param list<array{text: string, stands: bool, share: float}> $quotes whether each stands there word by word, and what share of its
     *     words stands together
     * @param float|null $share of the telling words, 0 to 1; null where there are too few
     */
    private function __construct(public array $quotes, public ?float $share)
    {
    }

    /**
     * @param list<string> $quotes
     * @param string $said what the reference says of the page
     * @param string $page its text
     */
    public static function of(array $quotes, string $said, string $page): self
    {
        $page = self::plain(mb_strcut($page, 0, self::TEXT));
        $held = self::words($page);
        $all = array_fill_keys($held, true);
        $found = array_map(static fn (string $quote): array => self::quote($quote, $page, $held), $quotes);
        $telling = self::telling($said);
        $there = array_filter(
            $telling,
            static fn (string $word): bool => isset($all[$word])
                || (1 !== preg_match('/^[\p{L}\p{N}.:]+$/u', $word) ? str_contains($page, $word) : 1 === preg_match(
                    '/\p{Han}|\p{Hiragana}|\p{Katakana}|\p{Thai}/u', $word,
                )
                    && str_contains($page, $word)),
        );

        return new self($found, \count($telling) < self::FEW ? null : round(\count($there) / \count($telling), 3));
    }

    /** How many of the quotations stand in the page. */
    public function standing(): int
    {
        return \count(array_filter($this->quotes, static fn (array $quote): bool => $quote['stands']));
    }

    /**
     * @return array{quotes: list<array{text: string, stands: bool, share: float}>, share: float|null}
     */
    public function values(): array
    {
        return ['quotes' => $this->quotes, 'share' => $this->share];
    }

    public static function isNearly(float $share): bool
    {
        return $share >= self::NEARLY;
    }

    /**
     * @param list<string> $held
     *
     * @return array{text: string, stands: bool, share: float}
     */
    private static function quote(string $quote, string $page, array $held): array
    {
        // What was left out of a quotation parts it.
        $parts = array_values(array_filter(
            array_map(self::plain(...), Split::by('/\s*[\[(]?(?:\.\.\.|…)[\])]?\s*/u', $quote)),
            static fn (string $part): bool => '' !== trim($part, ' .,;:!?'),
        ));
        $stands = [] !== $parts;
        $at = 0;
        foreach ($parts as $part) {
            $place = strpos($page, trim($part, ' .,;:!?'), $at);
            $stands = $stands && false !== $place;
            $at = false === $place ? $at : $place;
        }
        $words = self::words(self::plain($quote));

        return ['text' => $quote, 'stands' => $stands, 'share' => $stands ? 1.0 : self::together($words, $held)];
    }

    /**
     * The largest share of these words within a run of the page that is half as long again.
     *
     * @param list<string> $words
     * @param list<string> $held
     */
    private static function together(array $words, array $held): float
    {
        $wanted = array_count_values($words);
        $span = (int) ceil(1.5 * \count($words));
        $have = [];
        $match = $best = 0;
        foreach ($held as $n => $word) {
            if (isset($wanted[$word])) {
                $have[$word] = 1 + ($have[$word] ?? 0);
                $match += $have[$word] <= $wanted[$word] ? 1 : 0;
            }
            $gone = $held[$n - $span] ?? null;
            if (null !== $gone && isset($wanted[$gone])) {
                $match -= $have[$gone] <= $wanted[$gone] ? 1 : 0;
                --$have[$gone];
            }
            $best = max($best, $match);
        }

        return [] === $words ? 0.0 : round($best / \count($words), 3);
    }

    /**
     * Numbers, names and longer words, each once; what references always say is left out.
     *
     * @return list<string>
     */
    private static function telling(string $said): array
    {
        $said = (string) preg_replace('~https?://\S+|www\.\S+~iu', ' ', $said);
        $said = (string) preg_replace(
            '/[\[(][^\[\]()]{0,40}\b(?:accessed|retrieved|abgerufen|zugriff|consult\w*|πρόσβαση)\b[^\[\]()]{0,40}[\])]/iu', ' ', $said,
        );
        $words = [];
        foreach (self::words(self::plain($said)) as $word) {
            if (1 === preg_match('/\p{N}/u', $word) || mb_strlen($word) >= 5
                || 1 === preg_match('/[\p{Han}\p{Katakana}\p{Hiragana}\p{Thai}]{2}/u', $word)) {
                $words[$word] = $word;
            }
        }

        return array_map(strval(...), array_values($words));
    }

    private static function plain(string $text): string
    {
        $normal = \Normalizer::normalize(mb_scrub($text), \Normalizer::FORM_KC);
        $text = strtr(
            mb_strtolower(\is_string($normal) ? $normal : ''),
            [
                '’' => "'", '‘' => "'", '“' => '"', '”' => '"', '„' => '"', '«' => '"', '»' => '"', '–' => '-', '—' => '-', '‐' => '-',
                '‑' => '-', "\u{AD}" => '', "\u{200B}" => '',
            ],
        );

        return trim((string) preg_replace('/\s+/u', ' ', $text));
    }

    /**
     * @return list<string>
     */
    private static function words(string $plain): array
    {
        preg_match_all(
            "/[\\p{Han}\\p{Hiragana}\\p{Katakana}\\p{Thai}]+|[\\p{L}\\p{M}\\p{N}]+(?:['.:,-][\\p{L}\\p{M}\\p{N}]+)*/u", $plain, $m,
        );

        return $m[0];
    }
}
