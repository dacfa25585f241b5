<?php

declare(strict_types=1);

namespace Ypomna\App\Compare\Value;

use Ypomna\Core\Compare\PassageChange;
use Ypomna\Core\Page\Passage;

/** A row of the view side by side. */
final readonly class ComparisonRow
{
    /**
     * @param int|null $number of the change in the list, from 0
     * @param list<ComparisonRow> $folded rows that stayed the same and are shown on demand
     */
    public function __construct(
        public ?Passage $old,
        public ?Passage $new,
        public ?PassageChange $change,
        public ?int $number,
        public array $folded = [],
    ) {
    }
}
