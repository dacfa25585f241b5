<?php

declare(strict_types=1);

namespace Ypomna\Core\Citation;

/** A document that cannot be read, and why. */
final class UnreadableDraft extends \RuntimeException
{
}
