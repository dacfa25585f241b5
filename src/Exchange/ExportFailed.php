<?php

declare(strict_types=1);

namespace Ypomna\App\Exchange;

/** What was wished for cannot be put together; the message says why and what to do. */
final class ExportFailed extends \RuntimeException
{
}
