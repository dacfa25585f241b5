<?php

declare(strict_types=1);

namespace Ypomna\Core\Compare;

/** A part of the picture of a page that looks otherwise; all measures in pixels of that picture. */
final readonly class LookRegion
{
    /**
     * @param array{int, int, int, int}|null $old left, top, width, height in the earlier picture; null where it is not there
     * @param array{int, int, int, int}|null $new
     */
    public function __construct(public ChangeKind $kind, public ?array $old, public ?array $new)
    {
    }
}
