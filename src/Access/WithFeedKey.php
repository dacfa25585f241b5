<?php

declare(strict_types=1);

namespace Ypomna\App\Access;

/** A feed: programs that read it have no session, and show the key of a person instead (`?key=…`), which opens nothing else. */
#[\Attribute(\Attribute::TARGET_METHOD)]
final readonly class WithFeedKey
{
}
