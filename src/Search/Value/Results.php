<?php

declare(strict_types=1);

namespace Ypomna\App\Search\Value;

final readonly class Results
{
    /**
     * @param int $total how many there are, as far as they are counted
     * @param bool $isExact whether there are no more
     * @param string $understood what was looked for, in words
     * @param string|null $suggestion what may have been meant instead; null if nothing better is held
     * @param array<string, list<array{value: string, count: int}>> $facets by name: year, site, kind, tag, language, state
     * @param list<Result> $items
     * @param string|null $next cursor; null at the end
     */
    public function __construct(
        public int $total,
        public bool $isExact,
        public string $understood,
        public ?string $suggestion,
        public array $facets,
        public array $items,
        public ?string $next,
    ) {
    }
}
