<?php

declare(strict_types=1);

namespace Ypomna\App\Api;

use Symfony\Component\HttpFoundation\Request;

/** Which requests are those of programs. */
final class ApiPath
{
    public static function is(Request $request): bool
    {
        return 1 === preg_match('~^/api(?:/|$)~D', $request->getPathInfo()) && 'archived_page' !== $request->attributes->get('_route');
    }
}
