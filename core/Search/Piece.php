<?php

declare(strict_types=1);

namespace Ypomna\Core\Search;

/** A piece of text that is looked through: a paragraph, a heading, a cell. */
final readonly class Piece
{
    /** @param int $passage number of the passage of the page with which it begins; -1 if it is none */
    public function __construct(public Part $part, public string $text, public int $passage = -1)
    {
    }
}
