<?php

declare(strict_types=1);

namespace Ypomna\Core\Compare\Noise;

/** A rule that cannot be used; the message says why and where. */
final class InvalidRule extends \InvalidArgumentException
{
}
