<?php

declare(strict_types=1);

namespace Ypomna\App\Store;

/** No WARC file could be made of a file; the message says why, as whatever reads it says it. */
final class ConversionFailed extends \RuntimeException
{
}
