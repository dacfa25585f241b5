<?php

declare(strict_types=1);

namespace Ypomna\Core\Replay;

use Ypomna\Core\Address\Url;

/** Leaves every address what it is: for files that are read by themselves. */
final readonly class OwnPlace implements LinkMap
{
    public function map(Url $url): string
    {
        return (string) $url;
    }
}
