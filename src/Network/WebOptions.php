<?php

declare(strict_types=1);

namespace Ypomna\App\Network;

use Ypomna\App\Shared\CommandLine\UnreadableFile;
use Ypomna\App\Shared\Settings;
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
     * @throws UnreadableFile
     */
    public static function access(array $routes): WebAccess
    {
        foreach ($routes as $route) {
            try {
                Route::parse($route);
            } catch (\InvalidArgumentException $e) {
                throw new UnreadableFile('--resolve: '.$e->getMessage());
            }
        }
        $authorities = getenv('SSL_CERT_FILE');
        if (\is_string($authorities) && '' !== $authorities && !is_readable($authorities)) {
            throw new UnreadableFile(\sprintf('SSL_CERT_FILE names “%s”, which cannot be read.', $authorities));
        }
        $resolver = Settings::text('RESOLVER_DSN', 'system');
        if ('system' !== $resolver && 1 !== preg_match('~^dns://(?:[\d.]+|\[[\da-f:]+\]):\d{1,5}$~Di', $resolver)) {
            throw new UnreadableFile(\sprintf('RESOLVER_DSN is “%s”; it needs to be “system” or dns://ADDRESS:PORT.', $resolver));
        }

        return new WebAccess(resolver: $resolver, routes: implode(' ', $routes), authorities: \is_string($authorities) ? $authorities : '');
    }
}
