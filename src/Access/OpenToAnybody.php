<?php

declare(strict_types=1);

namespace Ypomna\App\Access;

/** A route for which nobody has to have signed in. */
#[\Attribute(\Attribute::TARGET_CLASS | \Attribute::TARGET_METHOD)]
final readonly class OpenToAnybody
{
}
