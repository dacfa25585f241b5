<?php

declare(strict_types=1);

namespace Ypomna\App\Custody;

/** A worker is to go through everything that is held. */
final readonly class VerifyHoldings
{
    public function __construct(public int $verificationId)
    {
    }
}
