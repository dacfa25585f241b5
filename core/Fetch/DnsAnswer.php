<?php

declare(strict_types=1);

namespace Ypomna\Core\Fetch;

/** What was said about a name, as it is kept with a capture. */
final readonly class DnsAnswer
{
    /**
     * @param list<string> $addresses IPv4 first, in the order given
     * @param list<array{name: string, type: string, ttl: int, data: string}> $records every record of the answers
     * @param string $source who said it: `dns 192.0.2.53:53`, `hosts file`, `given`
     */
    public function __construct(
        public string $host,
        public DnsStatus $status,
        public array $addresses,
        public array $records,
        public string $source,
    ) {
    }
}
