<?php

declare(strict_types=1);

namespace Ypomna\App\Files;

use Ypomna\App\Capture\WebAccess;
use Ypomna\Core\Fetch\Route;

/** How commands that work without the application reach the web: `--resolve`, and the authorities of `SSL_CERT_FILE`. */
final class WebOptions
{
    /**
     * @param list<string> $routes as given with `--resolve`
     *
     * @throws CannotRead
     */
    public static function access(array $routes): WebAccess
    {
        foreach ($routes as $route) {
            try {
                Route::parse($route);
            } catch (\InvalidArgumentException $e) {
                throw new CannotRead('--resolve: '.$e->getMessage());
            }
        }
        $authorities = getenv('SSL_CERT_FILE');
        if (\is_string($authorities) && '' !== $authorities && !is_readable($authorities)) {
            throw new CannotRead(\sprintf('SSL_CERT_FILE names “%s”, which cannot be read.', $authorities));
        }

        return new WebAccess(routes: implode(' ', $routes), authorities: \is_string($authorities) ? $authorities : '');
    }
}
