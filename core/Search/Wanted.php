<?php

declare(strict_types=1);

namespace Ypomna\Core\Search;

/** A clause of a question with all forms of its word that are looked for. */
final readonly class Wanted
{
    /** @param list<string> $forms folded, of a single word; the word itself comes first. Of phrases and beginnings there are none */
    public function __construct(public Clause $clause, public array $forms)
    {
    }
}
