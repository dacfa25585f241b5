<?php

declare(strict_types=1);

namespace Ypomna\App\Search\Value;

/** What somebody sees of an answer of the index. */
final readonly class Seen
{
    /**
     * @param list<Hit> $hits
     * @param int $ordered how many of them, from the first on, are in order
     * @param bool $isAll whether each text is among the hits, or its page counted
     * @param bool $isCut whether some of those that are for some only were not looked up
     * @param PageCounts|null $pages that were counted
     */
    public function __construct(
        public array $hits,
        public int $ordered,
        public bool $isAll = true,
        public bool $isCut = false,
        public ?PageCounts $pages = null,
    ) {
    }

    /** Pages that have one text, are counted, and are not among the hits. */
    public function others(): int
    {
        return ($this->pages->alone ?? 0) - \count(array_filter($this->hits, static fn (Hit $hit): bool => $hit->isCounted));
    }
}
