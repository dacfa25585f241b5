<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Event;

use Ypomna\App\Capture\Value\CaptureDescription;
use Ypomna\App\Shared\Actor;

/** Somebody wrote something beside a capture that is there. */
final readonly class CaptureDescribed
{
    public function __construct(public Actor $by, public string $capture, public CaptureDescription $description)
    {
    }
}
