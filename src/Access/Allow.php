<?php

declare(strict_types=1);

namespace Ypomna\App\Access;

/** Which right a route asks for. A route without one, and without {@see OpenToAnybody}, is closed to everybody. */
#[\Attribute(\Attribute::TARGET_CLASS | \Attribute::TARGET_METHOD)]
final readonly class Allow
{
    public function __construct(public Right $right)
    {
    }
}
