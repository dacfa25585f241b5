<?php

declare(strict_types=1);

namespace Ypomna\Core\Mhtml;

use Ypomna\Core\Address\Url;
use Ypomna\Core\Replay\LinkMap;

/**
 * Leads to the parts that a page has in the same file; all else stays the address that it is.
 *
 * @internal
 */
final readonly class PartsOfPage implements LinkMap
{
    /**
     * @param array<string, string> $ids Content-IDs by address
     */
    public function __construct(private array $ids)
    {
    }

    public function map(Url $url): string
    {
        $id = $this->ids[(string) $url->withoutFragment()] ?? null;

        return null === $id ? (string) $url : 'cid:'.$id.(null === $url->fragment ? '' : '#'.$url->fragment);
    }
}
