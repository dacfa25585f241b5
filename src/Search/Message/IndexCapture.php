<?php

declare(strict_types=1);

namespace Ypomna\App\Search\Message;

use Ypomna\App\Shared\Queue\QueuedMessage;

/** Something was written beside a capture. */
final readonly class IndexCapture implements QueuedMessage
{
    /** @param string $code of the capture */
    public function __construct(public string $code)
    {
    }
}
