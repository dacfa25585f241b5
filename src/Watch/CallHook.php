<?php

declare(strict_types=1);

namespace Ypomna\App\Watch;

/** A worker is to tell a web hook of an event. */
final readonly class CallHook
{
    public function __construct(public int $eventId)
    {
    }
}
