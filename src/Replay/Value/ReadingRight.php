<?php

declare(strict_types=1);

namespace Ypomna\App\Replay\Value;

use Ypomna\App\Shared\Viewer;

/** The right to read one capture. */
final readonly class ReadingRight
{
    /** @param string $capture its code */
    public function __construct(public Viewer $viewer, public string $capture)
    {
    }
}
