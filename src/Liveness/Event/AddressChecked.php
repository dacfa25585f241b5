<?php

declare(strict_types=1);

namespace Ypomna\App\Liveness\Event;

use Ypomna\Core\Liveness\Assessment;
use Ypomna\Core\Liveness\CheckResult;

/** An address was checked, and what came of it is entered. */
final readonly class AddressChecked
{
    /**
     * @param int $liveId number of the address among those that are checked
     * @param bool $isGone whether all checks together say that the page vanished
     */
    public function __construct(public int $liveId, public CheckResult $result, public Assessment $assessment, public bool $isGone)
    {
    }
}
