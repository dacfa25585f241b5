<?php

declare(strict_types=1);

namespace Ypomna\App\Search;

use Ypomna\App\Search\Value\WordLife;
use Ypomna\App\Shared\Viewer;

/** Says when words stood on a page: in which of its captures, and from when on no more. */
final readonly class WordLives
{
    public function __construct(private Searcher $searcher, private Stands $stands)
    {
    }

    /** @throws EngineIsAway */
    public function of(Viewer $viewer, int $address, string $asked): WordLife
    {
        return WordLife::of(
            $this->stands->captures($viewer, $address), array_fill_keys($this->searcher->textsOf($viewer, $address, $asked), true),
        );
    }
}
