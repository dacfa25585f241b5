<?php

declare(strict_types=1);

namespace Ypomna\Core\Liveness;

/** How a page stood at one moment. */
enum Standing: string
{
    case Alive = 'alive';
    case LeadsOn = 'leads-on';
    case Gone = 'gone';

    public static function of(int $status, bool $leadsOn): self
    {
        return match (true) {
            $leadsOn => self::LeadsOn,
            $status >= 200 && $status < 300 => self::Alive,
            default => self::Gone,
        };
    }
}
