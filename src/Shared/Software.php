<?php

declare(strict_types=1);

namespace Ypomna\App\Shared;

/** What this program calls itself in the evidence that it makes. */
final class Software
{
    public const VERSION = '0.1';
    public const NAME = 'Ypomna '.self::VERSION;
}
