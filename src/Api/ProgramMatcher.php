<?php

declare(strict_types=1);

namespace Ypomna\App\Api;

use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\RequestMatcherInterface;
use Ypomna\App\Shared\Codes;

/** Requests in which a token counts and no cookie does: all below /api, and those for the files of a capture that come with a token. */
final class ProgramMatcher implements RequestMatcherInterface
{
    public function matches(Request $request): bool
    {
        return ApiPath::is($request) || (
            $request->isMethodSafe() && str_starts_with($request->headers->get('Authorization') ?? '', 'Bearer ')
            && 1 === preg_match('~^/c/'.Codes::PATTERN.'/~', $request->getPathInfo())
        );
    }
}
