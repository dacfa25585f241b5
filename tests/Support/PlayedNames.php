<?php

declare(strict_types=1);

namespace Ypomna\Tests\Support;

use Ypomna\Core\Fetch\DnsAnswer;
use Ypomna\Core\Fetch\DnsStatus;
use Ypomna\Core\Fetch\Resolver;

/** A name server that says what a test wants. */
final class PlayedNames implements Resolver
{
    /**
     * @param array<string, list<string>|null> $names addresses by name; null: no answer
     */
    public function __construct(private array $names)
    {
    }

    /**
     * @param array<string, list<string>|null> $names
     */
    public function become(array $names): void
    {
        $this->names = $names;
    }

    public function resolve(string $host): DnsAnswer
    {
        $addresses = \array_key_exists($host, $this->names) ? $this->names[$host] : [];
        $status = match ($addresses) {
            null => DnsStatus::Failed,
            [] => DnsStatus::NoAddress,
            default => DnsStatus::Answered,
        };

        return new DnsAnswer($host, $status, $addresses ?? [], [], 'played');
    }
}
