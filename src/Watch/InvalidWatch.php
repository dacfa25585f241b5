<?php

declare(strict_types=1);

namespace Ypomna\App\Watch;

use Ypomna\App\Shared\Refusal;

/** A watch that cannot be begun or changed as the form has it. */
final class InvalidWatch extends Refusal
{
}
