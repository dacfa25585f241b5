<?php

declare(strict_types=1);

namespace Ypomna\App\Capture;

/** What somebody wants cannot be done as it is written; the message says what is wrong with it. */
final class InvalidRequest extends \InvalidArgumentException
{
}
