<?php

declare(strict_types=1);

namespace Ypomna\App\Files;

/** A file that was named cannot be read at all. */
final class CannotRead extends \RuntimeException
{
}
