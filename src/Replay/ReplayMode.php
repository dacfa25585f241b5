<?php

declare(strict_types=1);

namespace Ypomna\App\Replay;

/** How a page is read: with its scripts behind the wall, or as its rendered document, without them. */
enum ReplayMode: string
{
    case Alive = 'alive';
    case Still = 'still';

    /**
     * Scripts run only in browsers that know the whole wall (the connection allow-list, Chromium's so far); elsewhere the
     * page is read as its rendered document. Whatever does not call itself a browser runs no scripts at all.
     *
     * @param string $brands value of Sec-CH-UA
     * @param string $userAgent value of User-Agent
     */
    public static function forBrowser(string $brands, string $userAgent): self
    {
        return !str_contains($userAgent, 'Mozilla/') || str_contains($brands, 'Chromium')
            || 1 === preg_match('#\bChrome/1[4-9]\d\.#', $userAgent)
            ? self::Alive
            : self::Still;
    }
}
