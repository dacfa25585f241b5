<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Sites\Value;

/** A part of a page on its way. */
final class PartRequest
{
    public int $hops = 0;
    /** @var array<string, true> where it was sent on to */
    public array $seen = [];

    /** @param int $depth of frames */
    public function __construct(public readonly string $address, public readonly string $referrer, public readonly int $depth)
    {
    }
}
