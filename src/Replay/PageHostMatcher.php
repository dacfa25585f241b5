<?php

declare(strict_types=1);

namespace Ypomna\App\Replay;

use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\RequestMatcherInterface;

/** Whether a request is for an archived page's host, as {@see HostGuard} has found. */
final class PageHostMatcher implements RequestMatcherInterface
{
    public function matches(Request $request): bool
    {
        return 'archived_page' === $request->attributes->get('_route');
    }
}
