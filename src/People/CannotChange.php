<?php

declare(strict_types=1);

namespace Ypomna\App\People;

use Ypomna\App\Shared\Refusal;

/** Something about a person cannot be as it was asked for. */
final class CannotChange extends Refusal
{
}
