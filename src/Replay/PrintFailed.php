<?php

declare(strict_types=1);

namespace Ypomna\App\Replay;

/** A page could not be printed; the message says why. */
final class PrintFailed extends \RuntimeException
{
}
