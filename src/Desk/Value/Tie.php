<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Value;

/** Two things that hang together. */
final readonly class Tie
{
    /**
     * @param string $from code of an item
     * @param string $to code of an item or a capture
     * @param string $words the remark, or the passage
     */
    public function __construct(public string $from, public string $to, public TieKind $kind, public string $words = '')
    {
    }
}
