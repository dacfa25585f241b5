<?php

declare(strict_types=1);

namespace Ypomna\App\Search\Value;

use Ypomna\Core\Search\Find;
use Ypomna\Core\Search\Part;

/** A piece of a text in which something stands that is looked for. */
final class FoundPiece
{
    /** Whether other pages of its site have the same: then it weighs as what stands around a text. */
    public bool $isCommon = false;

    /**
     * @param int $nth the how manieth of its kind in the text, from 0
     * @param list<Find> $finds
     * @param string $digest equal for pieces of the same words
     */
    public function __construct(
        public readonly Part $part,
        public readonly int $nth,
        public readonly array $finds,
        public readonly string $digest,
    ) {
    }

    public function weighsAs(): Part
    {
        return $this->isCommon ? Part::Rest : $this->part;
    }
}
