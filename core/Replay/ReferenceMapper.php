<?php

declare(strict_types=1);

namespace Ypomna\Core\Replay;

use Ypomna\Core\Address\Url;

/**
 * Turns the absolute references of a document towards the archive. Relative ones are left as they are: every origin has
 * a host of its own in the archive, so they lead to the right place by themselves.
 */
final readonly class ReferenceMapper
{
    private const ABSOLUTE = '~^[\x00-\x20]*(?:(?:https?|wss?):|[\\\\/]{2})~i';

    public function __construct(private LinkMap $links, private Url $base)
    {
    }

    public function map(string $reference): string
    {
        // Browsers pass over line ends and tabs, wherever they stand.
        if (1 !== preg_match(self::ABSOLUTE, str_replace(["\t", "\r", "\n"], '', $reference))) {
            return $reference;
        }
        $url = Url::tryParse($reference, $this->base);
        if (null === $url || null === $url->host || !\in_array($url->scheme, ['http', 'https', 'ws', 'wss'], true)) {
            // Cannot be understood, so it could lead anywhere: it leads nowhere.
            return 'about:blank';
        }

        return $this->links->map($url);
    }
}
