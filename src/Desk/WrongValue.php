<?php

declare(strict_types=1);

namespace Ypomna\App\Desk;

/** Something that was said of an item cannot be; says what, and where it stands. */
final class WrongValue extends \RuntimeException
{
    /** @param string $pointer to the value (RFC 6901), with its first stroke */
    public function __construct(public readonly string $pointer, string $detail, ?\Throwable $previous = null)
    {
        parent::__construct($detail, 0, $previous);
    }
}
