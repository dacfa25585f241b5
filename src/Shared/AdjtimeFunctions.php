<?php

declare(strict_types=1);

namespace Ypomna\App\Shared;

/**
 * The function of the C library as FFI offers it; never implemented, only for the types.
 *
 * @internal
 */
interface AdjtimeFunctions
{
    /** @return int -1 if the kernel refuses */
    public function adjtimex(\FFI\CData $timex): int;
}
