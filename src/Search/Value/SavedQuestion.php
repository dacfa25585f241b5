<?php

declare(strict_types=1);

namespace Ypomna\App\Search\Value;

/** What somebody asked, with what it was narrowed by. */
final readonly class SavedQuestion
{
    /**
     * @param array<string, string> $query as in the address of the results
     * @param int $fresh how many pages and items are found that were not, when they looked last
     */
    public function __construct(
        public int $id,
        public string $asked,
        public array $query,
        public bool $isSaved,
        public bool $isWatched,
        public int $fresh,
    ) {
    }
}
