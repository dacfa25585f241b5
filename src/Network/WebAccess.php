<?php

declare(strict_types=1);

namespace Ypomna\App\Network;

use Ypomna\Core\Fetch\AddressGuard;
use Ypomna\Core\Fetch\Limits;
use Ypomna\Core\Fetch\Pathfinder;
use Ypomna\Core\Fetch\Route;
use Ypomna\Core\Split;

/**
 * How requests leave this installation: name server, trusted authorities, what the guard lets pass. From the settings.
 */
final readonly class WebAccess
{
    /**
     * @param string $resolver `system`, or `dns://address:port`
     * @param string $allowed host names separated by blanks, `*.` and a domain included, that may lead into closed networks
     * @param string $routes `HOST:PORT:ADDRESS` separated by blanks
     * @param string $detours `ADDRESS:PORT=ADDRESS:PORT` separated by blanks: where parts of the outside world are played
     * @param string $authorities PEM file of authorities that are trusted instead of the machine's; may be empty
     */
    public function __construct(
        private string $resolver = 'system',
        private string $allowed = '',
        private string $routes = '',
        private string $detours = '',
        private string $authorities = '',
    ) {
    }

    public function pathfinder(Limits $limits, ?StreamConnector $connector = null): Pathfinder
    {
        $detours = [];
        foreach (self::words($this->detours) as $detour) {
            [$from, $to] = explode('=', $detour, 2) + [1 => ''];
            $colon = (int) strrpos($to, ':');
            $detours[$from] = [substr($to, 0, $colon), (int) substr($to, $colon + 1)];
        }

        return new Pathfinder(
            UdpResolver::fromDsn($this->resolver),
            $connector ?? $this->connector($limits),
            new AddressGuard(self::words($this->allowed)),
            array_map(Route::parse(...), self::words($this->routes)),
            $detours,
        );
    }

    /** @param bool $insecure whether a server whose certificate cannot be trusted is asked all the same */
    public function connector(Limits $limits, bool $insecure = false): StreamConnector
    {
        return new StreamConnector($limits, '' === $this->authorities ? null : $this->authorities, $insecure);
    }

    /**
     * @return list<string>
     */
    private static function words(string $text): array
    {
        return Split::words($text);
    }
}
