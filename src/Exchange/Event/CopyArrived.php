<?php

declare(strict_types=1);

namespace Ypomna\App\Exchange\Event;

/** A witness's copy has come that belongs to the same act as a capture of the same page. Whoever has something of that act takes it. */
final class CopyArrived
{
    /** Whether it is where it belongs; else it is brought in by itself. */
    public bool $isTaken = false;

    /**
     * @param string $person whose browser made it
     * @param string $job code of that capture's job
     * @param string $capture code of the copy
     */
    public function __construct(public readonly string $person, public readonly string $job, public readonly string $capture)
    {
    }
}
