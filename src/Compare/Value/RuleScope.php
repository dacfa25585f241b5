<?php

declare(strict_types=1);

namespace Ypomna\App\Compare\Value;

/** Where a rule about noise holds. */
enum RuleScope: string
{
    case Address = 'address';
    case Folder = 'folder';
    case Host = 'host';

    /** What stands for that place of an address, by its key. */
    public function placeOf(string $key): string
    {
        $host = substr($key, 0, strcspn($key, ' ') + 1);
        $path = (string) preg_replace('/\?.*$/sD', '', substr($key, \strlen($host)));

        return match ($this) {
            self::Address => $key,
            self::Folder => $host.substr($path, 0, (int) strrpos($path, '/')).'/',
            self::Host => $host,
        };
    }

    /**
     * All places whose rules hold for an address.
     *
     * @return list<array{self, string}>
     */
    public static function around(string $key): array
    {
        $places = [[self::Address, $key], [self::Host, self::Host->placeOf($key)]];
        $from = \strlen(self::Host->placeOf($key));
        $end = $from + strcspn($key, '?', min($from, \strlen($key)));
        $at = strpos($key, '/', min($from, \strlen($key)));
        for ($n = 0; false !== $at && $at < $end && $n < 100; $at = strpos($key, '/', $at + 1), ++$n) {
            $places[] = [self::Folder, substr($key, 0, $at + 1)];
        }

        return $places;
    }
}
