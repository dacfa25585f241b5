<?php

declare(strict_types=1);

namespace Ypomna\App\Replay;

use Ypomna\App\Shared\PublicUrl;
use Ypomna\Core\Split;

/**
 * The names by which this installation is reached, port included. They come from the settings alone: what a request claims in its
 * Host field is held against them, and never used for more.
 */
final readonly class HostNames
{
    /** @var list<int> */
    private array $ports;
    /** @var list<string> of this machine itself, without port */
    private array $near;
    /** @var list<string> without port */
    private array $own;

    /**
     * @param string $appHosts names of this machine itself at which the application answers too, parted by blanks
     * @param string $port at which the server listens on this machine
     */
    public function __construct(string $appHosts, private PageHosts $pages, private string $port, private PublicUrl $public)
    {
        $this->ports = array_values(array_unique([(int) $port, $public->port]));
        $this->near = Split::words(strtolower($appHosts));
        $this->own = array_values(array_unique([...$this->near, $public->host]));
    }

    /** Whether a Host field names one of the application's own pages' hosts. */
    public function isOwn(string $authority): bool
    {
        $host = $this->host($authority);

        return null !== $host && \in_array($host, $this->own, true);
    }

    /** Whether a Host field names a host of archived pages. */
    public function isPage(string $authority): bool
    {
        $host = $this->host($authority);

        return null !== $host && !\in_array($host, $this->own, true) && $this->pages->isPageHost($host);
    }

    /** @return list<string> the origins of the application's own pages */
    public function origins(): array
    {
        return array_values(array_unique([
            $this->public->origin(), ...array_map(fn (string $host): string => 'http://'.$host.':'.$this->port, $this->near),
        ]));
    }

    public function __toString(): string
    {
        return implode(' ', $this->own);
    }

    /** The name in a Host field, in lower case; null if there is none, or if it is at another port than ours. */
    private function host(string $authority): ?string
    {
        if (1 !== preg_match('/^([^:\/@\s]+|\[[0-9a-f:.]+\])(?::(\d{1,5}))?$/Di', $authority, $m)) {
            return null;
        }
        // A port that is not said is the one of the scheme, which a proxy in front may have taken off.
        $ports = isset($m[2]) ? [(int) $m[2]] : [80, 443];

        return [] === array_intersect($ports, $this->ports) ? null : strtolower($m[1]);
    }
}
