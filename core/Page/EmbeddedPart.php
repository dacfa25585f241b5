<?php

declare(strict_types=1);

namespace Ypomna\Core\Page;

/** Something that a page loads and that is neither text nor picture of its own. */
final readonly class EmbeddedPart
{
    /** @param string $kind script, style, frame, font, media or other */
    public function __construct(public string $kind, public string $url)
    {
    }
}
