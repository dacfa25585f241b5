<?php

declare(strict_types=1);

namespace Ypomna\Core\Fetch;

/**
 * Finds the way from a host name to an open connection: fixed routes first, else the resolver's answer, each address
 * judged by the guard right before it is connected to.
 */
final class Pathfinder
{
    /** @var array<string, DnsAnswer> */
    private array $answers = [];

    /**
     * @param list<Route> $routes
     * @param array<string, array{string, int}> $detours `address:port` of the outside world to the place where it is played
     */
    public function __construct(
        private readonly Resolver $resolver,
        private readonly Connector $connector,
        private readonly AddressGuard $guard,
        private readonly array $routes = [],
        private readonly array $detours = [],
    ) {
    }

    /**
     * @param string $host name, IPv4, or IPv6 in brackets
     *
     * @return array{Connection, string} the connection, and the address that it goes to
     *
     * @throws FetchFailed
     */
    public function open(string $host, int $port, bool $tls): array
    {
        foreach ($this->routes as $route) {
            if ($route->matches($host, $port)) {
                return [$this->connector->connect($host, $route->ip, $route->target, $tls), $route->ip];
            }
        }
        $last = null;
        foreach ($this->addresses($host) as $ip) {
            if (!$this->guard->allows($host, $ip)) {
                $last = self::guarded($host, $ip);
                continue;
            }
            [$target, $targetPort] = $this->detours[$ip.':'.$port] ?? [$ip, $port];
            try {
                return [$this->connector->connect($host, $target, $targetPort, $tls), $ip];
            } catch (FetchFailed $e) {
                $last = $e;
            }
        }
        throw $last ?? new FetchFailed(FailureReason::NoHost, \sprintf('The name %s has no address.', $host));
    }

    /**
     * Says beforehand what opening would say of the name and the guard; nothing is connected to.
     *
     * @throws FetchFailed of a name without addresses, or with none but guarded ones, or if no name server answers
     */
    public function judge(string $host, int $port): void
    {
        foreach ($this->routes as $route) {
            if ($route->matches($host, $port)) {
                return;
            }
        }
        $last = null;
        foreach ($this->addresses($host) as $ip) {
            if ($this->guard->allows($host, $ip)) {
                return;
            }
            $last = self::guarded($host, $ip);
        }
        throw $last ?? new FetchFailed(FailureReason::NoHost, \sprintf('The name %s has no address.', $host));
    }

    /** Whether a name has an address, by what is set or what name servers say; nothing is connected to. */
    public function knows(string $host): bool
    {
        foreach ($this->routes as $route) {
            if ($route->matches($host, 80) || $route->matches($host, 443)) {
                return true;
            }
        }
        try {
            return [] !== $this->addresses($host);
        } catch (FetchFailed) {
            return false;
        }
    }

    /**
     * Everything that name servers said while this capture was made.
     *
     * @return list<DnsAnswer>
     */
    public function answers(): array
    {
        return array_values($this->answers);
    }

    private static function guarded(string $host, string $ip): FetchFailed
    {
        return new FetchFailed(
            FailureReason::Guarded, \sprintf('%s leads to %s, which lies in a closed network; it is not asked.', $host, $ip),
        );
    }

    /**
     * @return list<string>
     */
    private function addresses(string $host): array
    {
        $bare = trim($host, '[]');
        if (false !== @inet_pton($bare)) {
            return [$bare];
        }
        $answer = $this->answers[$host] ??= $this->resolver->resolve($host);

        return match ($answer->status) {
            DnsStatus::Answered => \array_slice($answer->addresses, 0, 4),
            DnsStatus::NoAddress => throw new FetchFailed(
                FailureReason::NoHost, \sprintf('The name %s has no address (says %s).', $host, $answer->source),
            ),
            DnsStatus::Failed => throw new FetchFailed(
                FailureReason::Dns, \sprintf('No name server gave an answer about %s (%s).', $host, $answer->source),
            ),
        };
    }
}
