<?php

declare(strict_types=1);

namespace Ypomna\Core\Fetch;

/** What is being kept cannot be written down: the capture has to end. */
final class StorageFull extends \RuntimeException
{
}
