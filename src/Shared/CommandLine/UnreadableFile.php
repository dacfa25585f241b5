<?php

declare(strict_types=1);

namespace Ypomna\App\Shared\CommandLine;

/** A file that was named cannot be read at all. */
final class UnreadableFile extends \RuntimeException
{
}
