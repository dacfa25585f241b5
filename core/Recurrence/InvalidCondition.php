<?php

declare(strict_types=1);

namespace Ypomna\Core\Recurrence;

/** A condition that could never be met, and why. */
final class InvalidCondition extends \InvalidArgumentException
{
}
