<?php

declare(strict_types=1);

namespace Ypomna\Core\Address;

/** A line of rules cannot be understood; the message says which, and why. */
final class InvalidRules extends \InvalidArgumentException
{
}
