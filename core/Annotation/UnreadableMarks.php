<?php

declare(strict_types=1);

namespace Ypomna\Core\Annotation;

/** The file holds no marks that can be read; says what and where. */
final class UnreadableMarks extends \RuntimeException
{
}
