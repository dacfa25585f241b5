<?php

declare(strict_types=1);

namespace Ypomna\Core\Fetch;

/** A client within this process that sends one request after another over a connection, and takes whatever comes. */
final readonly class Errand implements Duplex
{
    /** @param \Closure(): (string|null) $next the next request; null when there are no more */
    public function __construct(private \Closure $next)
    {
    }

    public function read(?float $seconds = null): string
    {
        return ($this->next)() ?? '';
    }

    public function write(string $bytes, ?float $seconds = null): void
    {
    }

    public function close(): void
    {
    }
}
