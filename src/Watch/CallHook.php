<?php

declare(strict_types=1);

namespace Ypomna\App\Watch;

use Ypomna\App\Queued;

/** A worker is to tell a web hook of an event. */
final readonly class CallHook implements Queued
{
    public function __construct(public int $eventId)
    {
    }
}
