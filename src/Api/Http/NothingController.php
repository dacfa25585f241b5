<?php

declare(strict_types=1);

namespace Ypomna\App\Api\Http;

use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpKernel\Attribute\AsController;
use Symfony\Component\HttpKernel\Exception\MethodNotAllowedHttpException;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Routing\Exception\ExceptionInterface;
use Symfony\Component\Routing\Matcher\UrlMatcher;
use Symfony\Component\Routing\RouterInterface;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Api\Needs;
use Ypomna\App\Replay\FetchMetadataGuard;

/** Every address below /api that is none: a program without a token is told of no more than that it needs one. */
#[AsController]
final class NothingController
{
    private const NAME = 'api_nothing';
    private const METHODS = ['GET', 'POST', 'PATCH', 'PUT', 'DELETE'];

    #[Allow(Right::Read)]
    #[Needs(null)]
    #[Route('/api{path}', name: self::NAME, requirements: ['path' => '(?:/.*)?'], defaults: FetchMetadataGuard::OPEN, priority: -999)]
    public function nothing(Request $request, RouterInterface $router): never
    {
        $allowed = [];
        foreach (self::METHODS as $method) {
            $context = clone $router->getContext();
            try {
                $found = (new UrlMatcher($router->getRouteCollection(), $context->setMethod($method)))->match($request->getPathInfo());
            } catch (ExceptionInterface) {
                continue;
            }
            if (self::NAME !== ($found['_route'] ?? null)) {
                $allowed[] = $method;
            }
        }
        throw [] === $allowed ? new NotFoundHttpException() : new MethodNotAllowedHttpException($allowed);
    }
}
