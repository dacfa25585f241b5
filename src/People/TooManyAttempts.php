<?php

declare(strict_types=1);

namespace Ypomna\App\People;

use Ypomna\App\Shared\Refusal;

/** Somebody has to wait. It says nothing of whether the name is anybody's. */
final class TooManyAttempts extends Refusal
{
    /** @param bool $isFirst whether it is the first of a row of them: only that one is worth a line in the log */
    public function __construct(public readonly int $seconds, public readonly bool $isFirst)
    {
        parent::__construct('people.too_many_attempts', ['n' => intdiv($seconds + 59, 60)]);
    }
}
