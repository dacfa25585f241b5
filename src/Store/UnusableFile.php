<?php

declare(strict_types=1);

namespace Ypomna\App\Store;

final class UnusableFile extends \RuntimeException
{
}
