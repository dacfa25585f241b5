<?php

declare(strict_types=1);

namespace Ypomna\App\Capture;

use Ypomna\Core\Fetch\FailureReason;

/** A page could not be kept: why, in words that a person understands, and whether it is worth another try. */
final class CaptureFailed extends \RuntimeException
{
    public function __construct(public readonly string $reason, string $message)
    {
        parent::__construct($message);
    }

    public static function because(FailureReason $reason, string $message): self
    {
        return new self($reason->value, $message);
    }
}
