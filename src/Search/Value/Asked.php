<?php

declare(strict_types=1);

namespace Ypomna\App\Search\Value;

use Ypomna\Core\Search\Question;
use Ypomna\Core\Search\Wanted;

/** What somebody asked, as it is understood. */
final readonly class Asked
{
    /**
     * @param list<Wanted> $wanted
     * @param int|null $address number of the one that is looked through; null for all
     * @param array<string, true>|null $places kinds and numbers of what is looked through; null for all
     * @param bool $isNothing whether nothing can answer it
     */
    public function __construct(
        public Question $question,
        public array $wanted,
        public ?int $address,
        public ?array $places,
        public bool $isNothing,
    ) {
    }
}
