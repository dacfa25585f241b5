<?php

declare(strict_types=1);

namespace Ypomna\App\Compare;

use Ypomna\App\Queued;

/** A worker is to draw the lifelines of an address. */
final readonly class DrawLifelines implements Queued
{
    public function __construct(public int $address)
    {
    }
}
