<?php

declare(strict_types=1);

namespace Ypomna\App\Replay;

/** What is answered: status, headers, and a body that comes in pieces. */
final class PageAnswer
{
    /**
     * @param array<string, string|null> $headers null values are left out
     * @param iterable<string> $body
     */
    public function __construct(public readonly int $status, public array $headers = [], public readonly iterable $body = [])
    {
    }
}
