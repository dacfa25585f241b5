<?php

declare(strict_types=1);

namespace Ypomna\Core\Fetch;

final class FetchFailed extends \RuntimeException
{
    public function __construct(public readonly FailureReason $reason, string $message)
    {
        parent::__construct($message);
    }
}
