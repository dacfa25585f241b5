<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Event;

/** Something was done with an item; within the transaction that does it. */
final readonly class ItemTouched
{
    /** @param int $item its number */
    public function __construct(public int $item)
    {
    }
}
