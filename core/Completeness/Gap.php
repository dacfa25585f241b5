<?php

declare(strict_types=1);

namespace Ypomna\Core\Completeness;

/** Something that the page asked for and that was not kept. */
final readonly class Gap
{
    public function __construct(public string $url, public GapKind $kind, public GapReason $reason)
    {
    }
}
