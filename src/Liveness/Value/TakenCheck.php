<?php

declare(strict_types=1);

namespace Ypomna\App\Liveness\Value;

use Ypomna\Core\Address\Url;

/** An address that a worker has taken to look at. */
final readonly class TakenCheck
{
    public function __construct(public int $id, public Url $url, public int $tries)
    {
    }
}
