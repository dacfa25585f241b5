<?php

declare(strict_types=1);

namespace Ypomna\App\Exchange;

use Ypomna\App\Shared\Refusal;

/** A file cannot be imported. */
final class UnusableFile extends Refusal
{
}
