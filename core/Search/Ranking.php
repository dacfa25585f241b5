<?php

declare(strict_types=1);

namespace Ypomna\Core\Search;

/**
 * How well a text answers a question, in parts that can be told to a person: what stands in its title or a heading, what stands in its main
 * text, whether all words stand near each other, and whether they stand there as they were asked for. How new a text is does not count.
 */
final readonly class Ranking
{
    private const OF_PART = [Part::Title->value => 8.0, Part::Heading->value => 4.0, Part::About->value => 3.0, Part::Main->value => 2.0,
        Part::Rest->value => 0.5, Part::Seen->value => 1.0, Part::Heard->value => 0.5];
    /** Words that stand so far apart are not near each other. */
    private const FAR = 40;
    private const NEAR = 6.0;
    private const EXACT = 1.5;

    /**
     * @param float $score the higher, the better
     * @param bool $inTitle whether all stands in the title
     * @param int|null $span in how many words all stands together; null if it is in no one piece
     * @param bool $isExact whether each word stands there as it was asked for
     * @param list<Part> $parts where it stands best, each once, the best first
     * @param int $clauses how many words and phrases are asked for
     */
    private function __construct(
        public float $score,
        public bool $inTitle,
        public ?int $span,
        public bool $isExact,
        public array $parts,
        public int $clauses,
    ) {
    }

    /**
     * @param list<array{Part, list<Find>}> $found what pieces are in which something stands
     * @param int $clauses how many there are
     */
    public static function of(array $found, int $clauses): self
    {
        $best = array_fill(0, $clauses, 0.0);
        $parts = [];
        $exact = $title = [];
        $span = null;
        $near = 0.0;
        foreach ($found as [$part, $finds]) {
            foreach ($finds as $find) {
                if (self::OF_PART[$part->value] > $best[$find->clause]) {
                    [$best[$find->clause], $parts[$find->clause]] = [self::OF_PART[$part->value], $part];
                }
                if ($find->isExact) {
                    $exact[$find->clause] = true;
                }
                if (Part::Title === $part) {
                    $title[$find->clause] = true;
                }
            }
            $here = self::span($finds, $clauses);
            if (null !== $here) {
                $span = min($here, $span ?? \PHP_INT_MAX);
                // Near each other in what stands around the text says less.
                $near = max($near, max(0.0, 1 - ($here - $clauses) / self::FAR) * min(1.0, self::OF_PART[$part->value] / 2));
            }
        }
        $score = array_sum($best) / max(1, $clauses) + self::EXACT * \count($exact) / max(1, $clauses);
        if ($clauses > 1) {
            $score += self::NEAR * $near;
        }

        usort($parts, static fn (Part $a, Part $b): int => self::OF_PART[$b->value] <=> self::OF_PART[$a->value]);

        return new self(
            $score, \count($title) === $clauses, $span, \count($exact) === $clauses, array_values(array_unique($parts, \SORT_REGULAR)),
            $clauses,
        );
    }

    /**
     * In how many words all clauses stand together.
     *
     * @param list<Find> $finds in their order
     *
     * @return int|null null if not all stand there
     */
    public static function span(array $finds, int $clauses): ?int
    {
        $last = [];
        $best = null;
        foreach ($finds as $find) {
            unset($last[$find->clause]);
            $last[$find->clause] = $find->word;
            if (\count($last) === $clauses) {
                $width = $find->word - (int) reset($last) + 1;
                $best = null === $best ? $width : min($best, $width);
            }
        }

        return $best;
    }
}
