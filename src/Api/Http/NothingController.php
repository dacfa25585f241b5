<?php

declare(strict_types=1);

namespace Ypomna\App\Api\Http;

use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpKernel\Attribute\AsController;
use Symfony\Component\HttpKernel\Exception\MethodNotAllowedHttpException;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Routing\Exception\ExceptionInterface;
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
        $asked = $router->getContext();
        try {
            foreach (self::METHODS as $method) {
                // The routes as they are compiled: to read them anew takes a hundred times as long.
                $router->setContext((clone $asked)->setMethod($method));
                if (self::NAME !== self::route($router, $request->getPathInfo())) {
                    $allowed[] = $method;
                }
            }
        } finally {
            $router->setContext($asked);
        }
        throw [] === $allowed ? new NotFoundHttpException() : new MethodNotAllowedHttpException($allowed);
    }

    /** The name of the route that answers; that of this one if none does. */
    private static function route(RouterInterface $router, string $path): string
    {
        try {
            $route = $router->match($path)['_route'] ?? null;
        } catch (ExceptionInterface) {
            $route = null;
        }

        return \is_string($route) ? $route : self::NAME;
    }
}
