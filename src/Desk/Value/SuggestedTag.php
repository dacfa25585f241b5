<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Value;

/** A tag that could suit an item. */
final readonly class SuggestedTag
{
    public function __construct(public string $name, public WhySuggested $why)
    {
    }
}
