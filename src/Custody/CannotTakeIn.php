<?php

declare(strict_types=1);

namespace Ypomna\App\Custody;

final class CannotTakeIn extends \RuntimeException
{
}
