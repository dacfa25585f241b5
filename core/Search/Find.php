<?php

declare(strict_types=1);

namespace Ypomna\Core\Search;

/** A place in a text where something stands that was asked for. */
final readonly class Find
{
    /**
     * @param int $clause number of the clause among those that must be there
     * @param int $from byte at which it begins
     * @param int $to byte behind it
     * @param int $word number of its first word in the text
     * @param string $form the word as it stands there, folded; of a phrase its first
     * @param bool $isExact whether it stands there as it was asked for, not in another form
     */
    public function __construct(public int $clause, public int $from, public int $to, public int $word, public string $form,
        public bool $isExact)
    {
    }
}
