<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue\Value;

use Ypomna\App\Catalogue\Entity\Capture;

/** Two captures that are held against each other, the earlier one first. */
final readonly class CapturePair
{
    private function __construct(public Capture $old, public Capture $new)
    {
    }

    /** In whatever order they were named; of the same moment, the first one counts as earlier. */
    public static function of(Capture $one, Capture $other): self
    {
        return $one->capturedAt > $other->capturedAt ? new self($other, $one) : new self($one, $other);
    }
}
