<?php

declare(strict_types=1);

namespace Ypomna\App\Shared;

/** Who does something: what is written down of an act has their name. */
final readonly class Actor
{
    public function __construct(public string $name)
    {
    }
}
