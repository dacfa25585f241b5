<?php

declare(strict_types=1);

namespace Ypomna\Core\Desk;

/** A value is none of its type; says in a sentence what is wanted. */
final class InvalidValue extends \RuntimeException
{
}
