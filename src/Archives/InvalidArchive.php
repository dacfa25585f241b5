<?php

declare(strict_types=1);

namespace Ypomna\App\Archives;

use Ypomna\App\Shared\Refusal;

/** Another archive cannot be asked under what was given. */
final class InvalidArchive extends Refusal
{
}
