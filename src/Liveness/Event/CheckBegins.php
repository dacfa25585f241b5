<?php

declare(strict_types=1);

namespace Ypomna\App\Liveness\Event;

/** An address is about to be checked. Whoever knows how it stood before may ask the server whether anything changed since. */
final class CheckBegins
{
    /** Header fields that make the request conditional (RFC 9110, section 13.1), each with its line end; '' for none. */
    public string $conditions = '';

    /** @param int $liveId number of the address among those that are checked */
    public function __construct(public readonly int $liveId)
    {
    }
}
