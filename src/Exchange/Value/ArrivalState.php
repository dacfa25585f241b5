<?php

declare(strict_types=1);

namespace Ypomna\App\Exchange\Value;

/** How far a file has come that was handed in. */
enum ArrivalState: string
{
    case Coming = 'coming';
    case Waiting = 'waiting';
    case Taken = 'taken';
    case Known = 'known';
    /** Taken in as far as it can be read; what is wrong with it stands beside it. */
    case Damaged = 'damaged';
    case Refused = 'refused';

    public function isFinal(): bool
    {
        return self::Coming !== $this && self::Waiting !== $this;
    }
}
