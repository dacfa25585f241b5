<?php

declare(strict_types=1);

namespace Ypomna\Core\Liveness;

/** A check of a page, or several close together that found the same. */
final readonly class Sight
{
    public function __construct(public \DateTimeImmutable $from, public \DateTimeImmutable $to, public Standing $standing)
    {
    }
}
