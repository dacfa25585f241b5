<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Event;

use Ypomna\App\Desk\Entity\Item;

/** Somebody is to be reminded of what is due. */
final readonly class Reminded
{
    /** @param non-empty-list<Item> $items */
    public function __construct(public string $person, public array $items)
    {
    }
}
