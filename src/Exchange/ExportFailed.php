<?php

declare(strict_types=1);

namespace Ypomna\App\Exchange;

use Ypomna\App\Shared\Refusal;

/** What was asked for cannot be put together. */
final class ExportFailed extends Refusal
{
}
