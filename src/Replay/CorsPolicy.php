<?php

declare(strict_types=1);

namespace Ypomna\App\Replay;

use Ypomna\App\Replay\Value\PartQuery;

/**
 * To whose scripts an answer is readable (Fetch, CORS protocol): to those of the capture itself, whose sandboxed pages have no
 * origin, and to nobody else on the web.
 */
final readonly class CorsPolicy
{
    /**
     * @return array<string, string> headers that let the asking script read; empty if it is none of that capture
     */
    public static function headers(PartQuery $ask, PageHosts $hosts): array
    {
        $origin = $ask->header('origin');
        if ('null' !== $origin && (null === $origin || !self::isSameCapture($origin, $ask, $hosts))) {
            return [];
        }

        // With credentials, too: an archived page's host has none.
        return ['Access-Control-Allow-Origin' => $origin, 'Access-Control-Allow-Credentials' => 'true'];
    }

    private static function isSameCapture(string $origin, PartQuery $ask, PageHosts $hosts): bool
    {
        $begin = $ask->scheme.'://';
        if (!str_starts_with($origin, $begin) || !str_ends_with($origin, $ask->port)) {
            return false;
        }
        $host = substr($origin, \strlen($begin), \strlen($origin) - \strlen($begin) - \strlen($ask->port));
        $asking = $hosts->label($host);

        return null !== $asking && $asking === $hosts->label($ask->host);
    }
}
