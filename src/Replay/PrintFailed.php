<?php

declare(strict_types=1);

namespace Ypomna\App\Replay;

use Ypomna\App\Shared\Refusal;

/** A page could not be printed. */
final class PrintFailed extends Refusal
{
}
