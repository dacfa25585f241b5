<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Value;

use Ypomna\App\Capture\Value\Tag;

/** A tag as somebody sees it: by the items that have it and that they see. */
final readonly class UsedTag
{
    public function __construct(public Tag $tag, public int $items, public ?Tag $parent)
    {
    }
}
