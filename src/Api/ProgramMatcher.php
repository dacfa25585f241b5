<?php

declare(strict_types=1);

namespace Ypomna\App\Api;

use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\RequestMatcherInterface;
use Ypomna\App\Shared\Codes;

/**
 * Requests in which a token counts and no cookie does: all below /api, and those with a token for the files of captures, exports and
 * references.
 */
final class ProgramMatcher implements RequestMatcherInterface
{
    private const FILES = '~^/(?:c/'.Codes::PATTERN.'/|export/'.Codes::PATTERN.'/(?:file/|all$)|references/'.Codes::PATTERN
        .'/(?:document|repaired|alterations\.csv)$)~D';

    public function matches(Request $request): bool
    {
        return ApiPath::is($request) || (
            $request->isMethodSafe() && str_starts_with($request->headers->get('Authorization') ?? '', 'Bearer ')
            && 1 === preg_match(self::FILES, $request->getPathInfo())
        );
    }
}
