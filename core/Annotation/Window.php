<?php

declare(strict_types=1);

namespace Ypomna\Core\Annotation;

/**
 * Passages of a page with the words that they share with what is looked for.
 *
 * @internal
 */
final readonly class Window
{
    public function __construct(public Correspondence $words, public int $first, public int $last)
    {
    }

    /** What of the surroundings of the words stands here, by weight. */
    public function around(Quote $quote): int
    {
        return $this->words->stayed(0, $quote->from) + $this->words->stayed($quote->to, \strlen($quote->folded));
    }

    /** The words weigh at most half as much as what stands around. */
    public function score(Quote $quote): int
    {
        $all = $this->words->weight(0, $quote->from) + $this->words->weight($quote->to, \strlen($quote->folded));

        return $this->around($quote) + min(intdiv($all, 2), $this->words->stayed($quote->from, $quote->to));
    }
}
