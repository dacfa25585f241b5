<?php

declare(strict_types=1);

namespace Ypomna\App\Compare;

/** A worker is to draw the lifelines of an address. */
final readonly class DrawLifelines
{
    public function __construct(public int $address)
    {
    }
}
