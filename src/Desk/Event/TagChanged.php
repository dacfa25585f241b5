<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Event;

/** A tag is called otherwise, or others were joined with it. */
final readonly class TagChanged
{
    /** @param int $tag its number */
    public function __construct(public int $tag)
    {
    }
}
