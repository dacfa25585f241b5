<?php

declare(strict_types=1);

namespace Ypomna\Core\Liveness;

use Ypomna\Core\Address\Url;

/** Looks at an address, and says what the server does; redirects are followed. */
interface Asker
{
    public function check(Url $url): CheckResult;
}
