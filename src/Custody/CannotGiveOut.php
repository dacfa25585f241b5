<?php

declare(strict_types=1);

namespace Ypomna\App\Custody;

/** What was wished for cannot be put together; the message says why and what to do. */
final class CannotGiveOut extends \RuntimeException
{
}
