<?php

declare(strict_types=1);

namespace Ypomna\Core\Search;

/** A word as it is looked for, and where it stands in its text. */
final readonly class Token
{
    /**
     * @param string $word folded
     * @param int $from byte of the text at which it begins
     * @param int $to byte behind it
     */
    public function __construct(public string $word, public int $from, public int $to)
    {
    }
}
