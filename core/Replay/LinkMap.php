<?php

declare(strict_types=1);

namespace Ypomna\Core\Replay;

use Ypomna\Core\Address\Url;

/** Says where in the archive an address of the page is answered. */
interface LinkMap
{
    /** @param Url $url absolute, http or https */
    public function map(Url $url): string;
}
