<?php

declare(strict_types=1);

namespace Ypomna\App\Files;

use Ypomna\App\Capture\WebAccess;
use Ypomna\App\Settings;
use Ypomna\Core\Fetch\Route;

/**
 * How commands that work without the application reach the web: `--resolve`, the authorities of `SSL_CERT_FILE`, and the
 * name server of the setting `RESOLVER_DSN`.
 */
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
        $resolver = Settings::text('RESOLVER_DSN', 'system');
        if ('system' !== $resolver && 1 !== preg_match('~^dns://(?:[\d.]+|\[[\da-f:]+\]):\d{1,5}$~Di', $resolver)) {
            throw new CannotRead(\sprintf('RESOLVER_DSN is “%s”; it needs to be “system” or dns://ADDRESS:PORT.', $resolver));
        }

        return new WebAccess(resolver: $resolver, routes: implode(' ', $routes), authorities: \is_string($authorities) ? $authorities : '');
    }
}
