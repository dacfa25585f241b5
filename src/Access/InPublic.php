<?php

declare(strict_types=1);

namespace Ypomna\App\Access;

/**
 * A route that a public reading room has open (setting PUBLIC_READING): captures read, downloaded and compared, and nothing that people
 * wrote. Without the setting it is a route as any other.
 */
#[\Attribute(\Attribute::TARGET_CLASS | \Attribute::TARGET_METHOD)]
final readonly class InPublic
{
}
