<?php

declare(strict_types=1);

namespace Ypomna\App\Replay;

use Ypomna\App\Catalogue\Value\ReadCapture;
use Ypomna\App\Replay\Value\PartQuery;

/** A document as it is being read: who asks, for what, as of which capture. */
final readonly class Reading
{
    /** @param string $nonce of our script, made anew for each answer */
    public function __construct(public PartQuery $ask, public PageRequest $asked, public ReadCapture $capture, public string $nonce)
    {
    }
}
