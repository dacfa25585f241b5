<?php

declare(strict_types=1);

namespace Ypomna\App\Capture;

use Ypomna\App\Shared\Refusal;

/** A capture that cannot be made as the form has it. */
final class InvalidRequest extends Refusal
{
}
