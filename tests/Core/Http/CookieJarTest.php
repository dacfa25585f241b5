<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Http;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Http\CookieDate;
use Ypomna\Core\Http\CookieJar;

final class CookieJarTest extends TestCase
{
    /**
     * @param list<string> $set
     * @param array<string, string|null> $sent
     */
    #[DataProvider('jars')]
    public function testCookiesGoBackWhereTheyCameFrom(string $from, array $set, array $sent): void
    {
        $now = new \DateTimeImmutable('2024-11-03T10:00:00Z');
        $jar = new CookieJar();
        $jar->take(Url::parse($from), $set, $now);
        foreach ($sent as $to => $cookies) {
            self::assertSame($cookies, $jar->header(Url::parse($to), $now), $to);
        }
    }

    /** @return iterable<string, array{string, list<string>, array<string, string|null>}> */
    public static function jars(): iterable
    {
        yield 'one host' => [
            'http://lantern.test/a/b',
            ['x=1'],
            [
                'http://lantern.test/a/' => 'x=1', 'http://lantern.test/a' => 'x=1', 'http://lantern.test/' => null,
                'http://www.lantern.test/a/' => null, 'http://notlantern.test/a/' => null,
            ],
        ];
        yield 'a domain' => [
            'http://www.lantern.test/',
            ['x=1; Domain=.lantern.test; Path=/'],
            ['http://lantern.test/z' => 'x=1', 'http://cdn.lantern.test/' => 'x=1', 'http://evil-lantern.test/' => null],
        ];
        yield 'somebody else\'s domain' => [
            'http://lantern.test/',
            ['x=1; Domain=corvane-marine.test', 'y=2; Domain=test', 'z=3; domain=www.lantern.test'],
            ['http://corvane-marine.test/' => null, 'http://lantern.test/' => null],
        ];
        yield 'an address in numbers' => ['http://192.0.2.7/', ['x=1; Domain=0.2.7'], ['http://192.0.2.7/' => null]];
        yield 'https only' => [
            'https://lantern.test/', ['x=1; Secure'], ['http://lantern.test/' => null, 'https://lantern.test/' => 'x=1'],
        ];
        yield 'longer paths first' => [
            'http://lantern.test/',
            ['a=1; path=/', 'b=2; path=/x/y'],
            ['http://lantern.test/x/y/z' => 'b=2; a=1', 'http://lantern.test/x/yz' => 'a=1'],
        ];
        yield 'over, and not yet' => [
            'http://lantern.test/',
            [
                'a=1; Expires=Sun, 03 Nov 2024 09:00:00 GMT',
                'b=2; Expires=Mon, 04-Nov-2024 09:00:00 GMT',
                'c=3; Max-Age=0; Expires=Mon, 04 Nov 2024 09:00:00 GMT',
                'd=4; max-age=60',
            ],
            ['http://lantern.test/' => 'b=2; d=4'],
        ];
        yield 'taken back' => ['http://lantern.test/', ['a=1', 'a=; Max-Age=-1'], ['http://lantern.test/' => null]];
        yield 'rubbish' => [
            'http://lantern.test/',
            ['', '=', ' ; Path=/', "a=b\r\nX: y", "c=d\x7F", 'e=f; Path=/'."\x01", str_repeat('x', 5_000).'=1'],
            ['http://lantern.test/' => null],
        ];
        yield 'deleted with a date in words' => [
            'http://lantern.test/',
            ['a=1', 'b=2', 'a=; Expires=Thursday, 01-Jan-1970 00:00:00 GMT', 'b=; expires=Thu Jan  1 1970 0:0:00'],
            ['http://lantern.test/' => null],
        ];
        yield 'without a name' => ['http://lantern.test/', ['ok', '=x', 'b=2'], ['http://lantern.test/' => 'x; b=2']];
        yield 'without a name, as if it had one' => [
            'https://lantern.test/', ['=__Host-a=1', '__Secure-b', '=__host-c=1; Secure; Path=/'], ['https://lantern.test/' => null],
        ];
        yield 'several domains: the last' => [
            'http://a.lantern.test/',
            [
                'x=1; Domain=corvane-marine.test; Domain=lantern.test',
                'y=2; Domain=lantern.test; Domain=corvane-marine.test',
                'z=3; Domain=lantern.test; Domain=',
            ],
            ['http://b.lantern.test/' => 'x=1', 'http://a.lantern.test/' => 'x=1; z=3'],
        ];
        yield 'two dots' => ['http://a.lantern.test/', ['x=1; Domain=..lantern.test'], ['http://a.lantern.test/' => null]];
        yield 'several paths: the last' => [
            'http://lantern.test/a/b',
            ['x=1; Path=/c; Path=d', 'y=2; Path=/a; Path=/c'],
            ['http://lantern.test/a/' => 'x=1', 'http://lantern.test/c' => 'y=2'],
        ];
        yield 'a date that cannot be read' => [
            'http://lantern.test/',
            ['a=1; Expires=Sun, 30 Feb 2020 09:00:00 GMT', 'b=2; Expires=nonsense', 'c=3; Max-Age=1x', 'd=4; Max-Age='],
            ['http://lantern.test/' => 'a=1; b=2; c=3; d=4'],
        ];
        yield 'age stands above date, wherever it stands' => [
            'http://lantern.test/',
            [
                'a=1; Max-Age=60; Expires=Thu, 01 Jan 1970 00:00:00 GMT',
                'b=2; Expires=Thu, 01 Jan 2099 00:00:00 GMT; Max-Age=0',
                'c=3; Max-Age=99999999999999999999',
            ],
            ['http://lantern.test/' => 'a=1; c=3'],
        ];
        yield 'one that is set again keeps its place' => [
            'http://lantern.test/', ['a=1', 'b=2', 'a=3'], ['http://lantern.test/' => 'a=3; b=2'],
        ];
        yield 'a blank within' => [
            'http://lantern.test/', ["a = \t1\t2 ; Path = /", 'b="x;y"'], ['http://lantern.test/' => "a=1\t2; b=\"x"],
        ];
        yield 'prefixes' => [
            'https://lantern.test/',
            [
                '__Secure-a=1',
                '__Secure-b=2; Secure',
                '__Host-c=3; Secure; Path=/',
                '__Host-d=4; Secure',
                '__Host-e=5; Secure; Path=/; Domain=lantern.test',
            ],
            ['https://lantern.test/' => '__Secure-b=2; __Host-c=3'],
        ];
        yield 'secure only over TLS' => [
            'http://lantern.test/',
            ['a=1; Secure', '__Secure-b=2; Secure'],
            ['http://lantern.test/' => null, 'https://lantern.test/' => null],
        ];
    }

    public function testWhatWasSetOverTlsIsNotHiddenWithoutIt(): void
    {
        $now = new \DateTimeImmutable('2024-11-03T10:00:00Z');
        $jar = new CookieJar();
        $jar->take(Url::parse('https://lantern.test/'), ['a=1; Secure'], $now);
        $jar->take(Url::parse('http://lantern.test/x/'), ['a=2', 'a=3; Path=/x', 'b=4'], $now);
        self::assertSame('b=4; a=1', $jar->header(Url::parse('https://lantern.test/x/'), $now));
    }

    #[DataProvider('dates')]
    public function testDatesAreReadAsBrowsersDo(string $text, ?string $moment): void
    {
        self::assertSame(null === $moment ? null : (new \DateTimeImmutable($moment))->getTimestamp(), CookieDate::parse($text));
    }

    /** @return iterable<array{string, string|null}> */
    public static function dates(): iterable
    {
        yield ['Thursday, 01-Jan-1970 00:00:00 GMT', '1970-01-01T00:00:00Z'];
        yield ['Sun Nov  3 2024 1:2:3', '2024-11-03T01:02:03Z'];
        yield ['3-NOVEMBER-24 10:00:00', '2024-11-03T10:00:00Z'];
        yield ['10:00:00 2024 03 nov', '2024-11-03T10:00:00Z'];
        yield ['10:00:00 03 nov 2024', '2024-11-03T10:00:00Z'];
        yield ['Mon, 03 Nov 2024 10:00:00.5 +0200', '2024-11-03T10:00:00Z'];
        yield ['03 Nov 69 10:00:00', '2069-11-03T10:00:00Z'];
        yield ['03 Nov 70 10:00:00', '1970-11-03T10:00:00Z'];
        yield ['03 Nov 1600 10:00:00', null];
        yield ['03 Nov 2024 24:00:00', null];
        yield ['31 Nov 2024 10:00:00', null];
        yield ['03 Nov 2024', null];
        yield ['2024-11-03T10:00:00Z', null];
        yield ['03rd Nov, 2024; 10:00:00', '2024-11-03T10:00:00Z'];
        yield ['', null];
    }
}
