<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Sites\Value;

use Ypomna\App\Shared\AddressKeys;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Crawl\Traps;

/** An address that belongs to a site, perhaps. */
final readonly class FoundAddress
{
    /** As bytes. */
    public string $keyHash;

    /**
     * @param string $role `page`, or `map` for what names pages: a sitemap, a feed
     * @param string $via `seed`, `link`, `map`, `redirect`
     * @param int|null $parent the page that led to it
     */
    public function __construct(public Url $url, public string $role, public int $depth, public string $via, public ?int $parent = null)
    {
        $this->keyHash = (string) hex2bin(AddressKeys::keyHash((string) $url));
    }

    /** Hash of what its address has in common with others, as bytes. */
    public function kind(): ?string
    {
        $name = Traps::kind($this->url);

        return null === $name ? null : substr(hash('sha256', $name, true), 0, 8);
    }
}
