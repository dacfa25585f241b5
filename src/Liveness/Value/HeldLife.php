<?php

declare(strict_types=1);

namespace Ypomna\App\Liveness\Value;

use Ypomna\Core\Liveness\Lifetime;

/** What is known of the life of an address that is held. */
final readonly class HeldLife
{
    public function __construct(public string $host, public int $year, public Lifetime $life)
    {
    }
}
