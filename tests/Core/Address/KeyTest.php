<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Address;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Address\Key;
use Ypomna\Core\Address\Url;

final class KeyTest extends TestCase
{
    #[DataProvider('same')]
    public function testEqualAddressesHaveOneKey(string $one, string $other): void
    {
        self::assertSame(Key::of(Url::parse($one)), Key::of(Url::parse($other)));
    }

    /**
     * @return iterable<string, list<string>>
     */
    public static function same(): iterable
    {
        yield 'scheme and port' => ['http://lantern.test:80/a', 'https://lantern.test:443/a'];
        yield 'www' => ['http://www.lantern.test/a', 'http://lantern.test/a'];
        yield 'case and final dot of the host' => ['http://LANTERN.test./a', 'http://lantern.test/a'];
        yield 'punycode' => ['http://αλυκή.test/', 'http://xn--jxaf1ad4c.test/'];
        yield 'userinfo and fragment' => ['http://u:p@lantern.test/a#x', 'http://lantern.test/a'];
        yield 'dot segments' => ['http://lantern.test/b/../a', 'http://lantern.test/a'];
        yield 'coded unreserved' => ['http://lantern.test/%61%2Db', 'http://lantern.test/a-b'];
        yield 'case of codes' => ['http://lantern.test/%c3%a9', 'http://lantern.test/%C3%A9'];
        yield 'order of parameters' => ['http://lantern.test/?b=2&a=1', 'http://lantern.test/?a=1&b=2'];
        yield 'empty query' => ['http://lantern.test/a?', 'http://lantern.test/a'];
        yield 'session' => [
            'http://lantern.test/a;jsessionid=8F3A77C01D9E42B5AA01?PHPSESSID=q1w2e3r4t5y6u7i8o9p0', 'http://lantern.test/a',
        ];
        yield 'tracking' => ['http://lantern.test/a?utm_source=x&fbclid=y&id=3&gclid=z', 'http://lantern.test/a?id=3'];
    }

    #[DataProvider('different')]
    public function testDifferentPagesHaveDifferentKeys(string $one, string $other): void
    {
        self::assertNotSame(Key::of(Url::parse($one)), Key::of(Url::parse($other)));
    }

    /**
     * @return iterable<string, list<string>>
     */
    public static function different(): iterable
    {
        yield 'case of the path' => ['http://lantern.test/A', 'http://lantern.test/a'];
        yield 'values' => ['http://lantern.test/?a=1', 'http://lantern.test/?a=2'];
        yield 'an article that is called sid' => ['http://lantern.test/?sid=12', 'http://lantern.test/?sid=13'];
        yield 'port' => ['http://lantern.test:8080/', 'http://lantern.test/'];
        yield 'coded slash' => ['http://lantern.test/a%2Fb', 'http://lantern.test/a/b'];
        yield 'order of one parameter’s values' => ['http://lantern.test/?a=1&a=2', 'http://lantern.test/?a=2&a=1'];
        yield 'host of one label behind www' => ['http://www.test/', 'http://test/'];
        yield 'subdomain' => ['http://cdn.lantern.test/', 'http://lantern.test/'];
    }

    public function testHostsFoldersAndSubdomainsStandTogether(): void
    {
        $addresses = [
            'http://lantern-x.test/', 'http://lantern.test/b', 'http://cdn.lantern.test/', 'http://lantern.test/a/2',
            'http://lantern.test:8080/', 'http://lantern.test/a/1?q', 'http://lantern.test/a', 'http://lanter.test/',
        ];
        $keys = array_combine($addresses, array_map(static fn (string $url): string => Key::of(Url::parse($url)), $addresses));
        asort($keys, \SORT_STRING);
        self::assertSame([
            'http://lanter.test/', 'http://lantern.test/a', 'http://lantern.test/a/1?q', 'http://lantern.test/a/2', 'http://lantern.test/b',
            'http://lantern.test:8080/', 'http://cdn.lantern.test/', 'http://lantern-x.test/',
        ], array_keys($keys));
    }

    public function testPrefixesCoverTheirHostAndFolder(): void
    {
        $url = Url::parse('https://www.lantern.test/2024/11/held?x=1');
        self::assertSame('test!lantern ', Key::hostPrefix($url));
        self::assertSame('test!lantern /2024/11/', Key::folderPrefix($url));
        self::assertStringStartsWith(Key::folderPrefix($url), Key::of($url));
    }

    public function testOtherSchemesHaveKeysToo(): void
    {
        self::assertSame('~mailto:ilse@watch.test', Key::of(Url::parse('mailto:ilse@watch.test')));
        self::assertSame('test!lantern ~ftp/x', Key::of(Url::parse('ftp://lantern.test/x')));
        self::assertSame('127.0.0.1 /', Key::of(Url::parse('http://2130706433/')));
    }

    public function testAKeyCanBeShown(): void
    {
        self::assertSame('https://lantern.test/a?id=3', Key::canonical(Url::parse('https://www.lantern.test/./a?utm_medium=x&id=3#y')));
    }
}
