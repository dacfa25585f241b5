<?php

declare(strict_types=1);

namespace Ypomna\Core\Fetch;

/**
 * The gateway's connection to a server, and to which.
 *
 * @internal
 */
final readonly class Upstream
{
    public function __construct(public Connection $connection, private string $host, private int $port, public string $ip)
    {
    }

    public function leadsTo(string $host, int $port): bool
    {
        return $this->host === $host && $this->port === $port;
    }
}
