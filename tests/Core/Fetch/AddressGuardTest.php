<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Fetch;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Fetch\AddressGuard;

final class AddressGuardTest extends TestCase
{
    #[DataProvider('addresses')]
    public function testOnlyThePublicInternetIsOpen(string $ip, bool $open): void
    {
        self::assertSame($open, (new AddressGuard())->allows('somewhere.example', $ip));
    }

    /**
     * @return iterable<string, array{string, bool}>
     */
    public static function addresses(): iterable
    {
        foreach ([
            '1.1.1.1', '8.8.8.8', '172.15.255.255', '172.32.0.1', '100.63.255.255', '168.63.129.15', '168.63.129.17', '223.255.255.254',
            '2606:4700::1111', '[2a00::1]', '64:ff9b::808:808', '2002:808:808::1',
        ] as $ip) {
            yield $ip => [$ip, true];
        }
        foreach ([
            '0.0.0.0', '0.1.2.3', '10.0.0.1', '100.64.0.1', '127.0.0.1', '127.255.255.255', '169.254.169.254', '172.16.0.1',
            '172.31.255.255', '192.0.0.1', '192.0.2.1', '192.168.0.1',
            '198.18.0.1', '198.51.100.1', '203.0.113.1', '224.0.0.1', '240.0.0.1', '255.255.255.255', '::', '::1', '[::1]', 'fe80::1',
            'fec0::1', 'fc00::1', 'fd12::1', 'ff02::1', '2001:db8::1', '2001::1', '3fff::1',
            '::ffff:127.0.0.1', '::ffff:10.0.0.1', '::ffff:a9fe:a9fe', '::127.0.0.1', '64:ff9b::7f00:1', '64:ff9b::10.1.2.3',
            '64:ff9b:1::1', '2002:7f00:1::', '2002:c0a8:1::1', '4000::1', '8000::1',
            '168.63.129.16', '::ffff:168.63.129.16', '100.100.100.200', '192.0.0.192', '127.1', '2130706433', '0x7f.1', 'localhost', '',
            'fe80::1%eth0',
        ] as $ip) {
            yield 'closed: '.$ip => [$ip, false];
        }
    }

    public function testANameCanBeAllowedByItselfOrWithItsDomain(): void
    {
        $guard = new AddressGuard(['*.test', 'wiki.corp.example']);
        foreach (['lantern.test', 'CDN.lantern.TEST.', 'wiki.corp.example'] as $host) {
            self::assertTrue($guard->allows($host, '127.0.0.1'), $host);
        }
        foreach (['test', 'lantern.test.example', 'latest', 'corp.example', 'a.wiki.corp.example'] as $host) {
            self::assertFalse($guard->allows($host, '127.0.0.1'), $host);
        }
    }
}
