<?php

declare(strict_types=1);

namespace Ypomna\Core\Fetch;

/**
 * Keeps requests out of the operator's own network. Judged is the address that a connection is about to go to, never a
 * name: so a name that changes its answer between check and use gains nothing.
 */
final readonly class AddressGuard
{
    /**
     * Special-purpose blocks of IPv4 and IPv6 (RFC 6890 and its registries) that are not the public Internet. IPv4 is
     * judged in its IPv6-mapped form; the blocks that carry an IPv4 address inside are unpacked before.
     */
    private const CLOSED = [
        '0.0.0.0/8', '10.0.0.0/8', '100.64.0.0/10', '127.0.0.0/8', '169.254.0.0/16', '172.16.0.0/12', '192.0.0.0/24',
        '192.0.2.0/24', '192.88.99.0/24', '192.168.0.0/16', '198.18.0.0/15', '198.51.100.0/24', '203.0.113.0/24', '224.0.0.0/3',
        '::/96', '64:ff9b:1::/48', '100::/64', '2001::/23', '2001:db8::/32', '3fff::/20', '5f00::/16', 'fc00::/7', 'fe80::/9', 'ff00::/8',
    ];

    /** Addresses of the public space at which a machine of a data centre finds its own landlord's services. */
    private const LANDLORD = ['168.63.129.16/32'];

    /** Blocks with an IPv4 address inside, and the byte where it begins: mapped, NAT64 (RFC 6052), 6to4 (RFC 3056). */
    private const CARRIERS = ['::ffff:0:0/96' => 12, '64:ff9b::/96' => 12, '2002::/16' => 2];

    /**
     * @param list<string> $allowedNames host names, or `*.` and a domain, that may lead anywhere
     */
    public function __construct(private array $allowedNames = [])
    {
    }

    /** Whether a request for that host may go to that address. */
    public function allows(string $host, string $ip): bool
    {
        foreach ($this->allowedNames as $pattern) {
            if (self::nameMatches($pattern, $host)) {
                return true;
            }
        }

        return self::isPublic($ip);
    }

    public static function isPublic(string $ip): bool
    {
        $packed = @inet_pton(trim($ip, '[]'));
        if (false === $packed) {
            return false;
        }
        foreach (self::CARRIERS as $block => $at) {
            if (16 === \strlen($packed) && self::within($packed, $block)) {
                $packed = substr($packed, $at, 4);
            }
        }
        foreach ([...self::CLOSED, ...self::LANDLORD] as $block) {
            if (self::within($packed, $block)) {
                return false;
            }
        }

        // Of IPv6 only 2000::/3 has been given out; the rest is nobody's.
        return 4 === \strlen($packed) || 0x20 === (\ord($packed[0]) & 0xE0);
    }

    public static function nameMatches(string $pattern, string $host): bool
    {
        $host = rtrim(strtolower($host), '.');
        $pattern = strtolower($pattern);
        if (str_starts_with($pattern, '*.')) {
            return str_ends_with($host, substr($pattern, 1));
        }

        return '*' === $pattern || $host === $pattern;
    }

    private static function within(string $packed, string $block): bool
    {
        [$network, $bits] = explode('/', $block);
        $network = (string) inet_pton($network);
        if (\strlen($network) !== \strlen($packed)) {
            return false;
        }
        $whole = intdiv((int) $bits, 8);
        $rest = (int) $bits % 8;
        $mask = 0 === $rest ? 0 : (0xFF << (8 - $rest)) & 0xFF;

        return substr($packed, 0, $whole) === substr($network, 0, $whole)
            && (0 === $mask || (\ord($packed[$whole]) & $mask) === (\ord($network[$whole]) & $mask));
    }
}
