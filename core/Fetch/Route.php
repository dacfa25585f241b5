<?php

declare(strict_types=1);

namespace Ypomna\Core\Fetch;

/**
 * A fixed way to a host, given by the operator as `HOST:PORT:ADDRESS`, or `HOST:PORT:ADDRESS:PORT` where the server
 * listens on another port than the one in the address. HOST may be `*`, or `*.` and a domain. An IPv6 address stands in
 * brackets.
 */
final readonly class Route
{
    private function __construct(private string $host, private int $port, public string $ip, public int $target)
    {
    }

    /**
     * @throws \InvalidArgumentException
     */
    public static function parse(string $text): self
    {
        if (1 !== preg_match('/^(\[[^\]]+\]|[^:]+):(\d{1,5}):(\[[0-9a-f:.]+\]|[0-9.]+|[0-9a-f:]+?)(?::(\d{1,5}))?$/i', trim($text), $m)
            || false === @inet_pton(trim($m[3], '[]'))) {
            throw new \InvalidArgumentException(\sprintf('“%s” is not of the form HOST:PORT:ADDRESS.', $text));
        }

        return new self($m[1], (int) $m[2], trim($m[3], '[]'), '' === ($m[4] ?? '') ? (int) $m[2] : (int) $m[4]);
    }

    public function matches(string $host, int $port): bool
    {
        return $this->port === $port && AddressGuard::nameMatches($this->host, $host);
    }
}
