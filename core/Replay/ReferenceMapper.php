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

    /** @param bool $relativeToo whether relative references are turned, too: where the document itself has moved */
    public function __construct(private LinkMap $links, private Url $base, private bool $relativeToo = false)
    {
    }

    public function map(string $reference): string
    {
        if ($this->relativeToo && 1 !== preg_match('~^[\x00-\x20]*(?:#|[a-z][a-z0-9+.-]*:|$)~i', $reference)) {
            $url = Url::tryParse($reference, $this->base);

            return null === $url || !$url->isWeb() ? $reference : $this->links->map($url);
        }

        return $this->mapAbsolute($reference);
    }

    /** Of what may be a reference or any other word: it is turned only if it is plainly one. */
    public function mapAbsolute(string $reference): string
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
