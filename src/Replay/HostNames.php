<?php

declare(strict_types=1);

namespace Ypomna\App\Replay;

use Ypomna\Core\Split;

/**
 * The names by which this installation is reached, port included. They come from the settings alone: what a request claims in its
 * Host field is held against them, and never used for more.
 */
final readonly class HostNames
{
    /** @var list<int> */
    private array $ports;
    /** @var list<string> without port */
    private array $own;

    /**
     * @param string $appHosts of the application's own pages, parted by blanks
     * @param string $port at which the server listens
     * @param string $publicUrl where readers reach it, if something stands in front
     */
    public function __construct(string $appHosts, private PageHosts $pages, string $port, string $publicUrl)
    {
        $public = parse_url($publicUrl);
        $public = \is_array($public) ? $public : [];
        $this->ports = array_values(array_unique([(int) $port, $public['port'] ?? ('https' === ($public['scheme'] ?? '') ? 443 : 80)]));
        $this->own = array_values(array_unique([...Split::words(strtolower($appHosts)), strtolower($public['host'] ?? 'localhost')]));
    }

    /** Whether a Host field names one of the application's own pages' hosts. */
    public function isOwn(string $authority): bool
    {
        [$host, $port] = self::parted($authority);

        return \in_array($host, $this->own, true) && \in_array($port, $this->ports, true);
    }

    /** Whether a Host field names a host of archived pages. */
    public function isPage(string $authority): bool
    {
        [$host, $port] = self::parted($authority);

        return $this->pages->isPageHost($host) && \in_array($port, $this->ports, true);
    }

    public function __toString(): string
    {
        return implode(' ', $this->own);
    }

    /**
     * @return array{string, int|null} name in lower case and port; null where what stands there is none
     */
    private static function parted(string $authority): array
    {
        if (1 !== preg_match('/^([^:\/@\s]+|\[[0-9a-f:.]+\])(?::(\d{1,5}))?$/Di', $authority, $m)) {
            return ['', null];
        }

        return [strtolower($m[1]), isset($m[2]) ? (int) $m[2] : 80];
    }
}
