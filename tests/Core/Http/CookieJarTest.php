<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Http;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Http\CookieJar;

final class CookieJarTest extends TestCase
{
    /**
     * @param list<string>               $set
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
        yield 'one host' => ['http://lantern.test/a/b', ['x=1'], ['http://lantern.test/a/' => 'x=1', 'http://lantern.test/a' => 'x=1', 'http://lantern.test/' => null, 'http://www.lantern.test/a/' => null, 'http://notlantern.test/a/' => null]];
        yield 'a domain' => ['http://www.lantern.test/', ['x=1; Domain=.lantern.test; Path=/'], ['http://lantern.test/z' => 'x=1', 'http://cdn.lantern.test/' => 'x=1', 'http://evil-lantern.test/' => null]];
        yield 'somebody else\'s domain' => ['http://lantern.test/', ['x=1; Domain=corvane-marine.test', 'y=2; Domain=test', 'z=3; domain=www.lantern.test'], ['http://corvane-marine.test/' => null, 'http://lantern.test/' => null]];
        yield 'an address in numbers' => ['http://192.0.2.7/', ['x=1; Domain=0.2.7'], ['http://192.0.2.7/' => null]];
        yield 'https only' => ['https://lantern.test/', ['x=1; Secure'], ['http://lantern.test/' => null, 'https://lantern.test/' => 'x=1']];
        yield 'longer paths first' => ['http://lantern.test/', ['a=1; path=/', 'b=2; path=/x/y'], ['http://lantern.test/x/y/z' => 'b=2; a=1', 'http://lantern.test/x/yz' => 'a=1']];
        yield 'over, and not yet' => ['http://lantern.test/', ['a=1; Expires=Sun, 03 Nov 2024 09:00:00 GMT', 'b=2; Expires=Mon, 04-Nov-2024 09:00:00 GMT', 'c=3; Max-Age=0; Expires=Mon, 04 Nov 2024 09:00:00 GMT', 'd=4; max-age=60'], ['http://lantern.test/' => 'b=2; d=4']];
        yield 'taken back' => ['http://lantern.test/', ['a=1', 'a=; Max-Age=-1'], ['http://lantern.test/' => null]];
        yield 'rubbish' => ['http://lantern.test/', ['', '=x', 'ok', "a=b\r\nX: y", str_repeat('x', 9_000).'=1'], ['http://lantern.test/' => 'ok=']];
    }
}
