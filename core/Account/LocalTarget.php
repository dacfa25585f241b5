<?php

declare(strict_types=1);

namespace Ypomna\Core\Account;

/** Where somebody is led after signing in: a page of ours that they had asked for, and nowhere else. */
final class LocalTarget
{
    private const MOST = 4_000;

    /** Path and query; null if it could lead elsewhere. Browsers read `\` as `/` and leave tabs and line ends out. */
    public static function of(string $asked): ?string
    {
        $isLocal = \strlen($asked) <= self::MOST && 1 === preg_match('~^/(?![/\\\\])[\x21-\x5b\x5d-\x7e]*$~D', $asked);

        return $isLocal && !str_starts_with($asked, '/sign-') ? $asked : null;
    }
}
