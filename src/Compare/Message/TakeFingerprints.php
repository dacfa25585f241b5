<?php

declare(strict_types=1);

namespace Ypomna\App\Compare\Message;

use Ypomna\App\Shared\Queue\QueuedMessage;

/** A worker is to read captures for their fingerprints that have none yet. */
final readonly class TakeFingerprints implements QueuedMessage
{
}
