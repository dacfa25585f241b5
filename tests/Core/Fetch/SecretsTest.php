<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Fetch;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Fetch\Cookie;
use Ypomna\Core\Fetch\Exchange;
use Ypomna\Core\Fetch\Secrets;
use Ypomna\Tests\Support\Folder;

final class SecretsTest extends TestCase
{
    #[DataProvider('messages')]
    public function testWhatSignsAPersonInIsOverwrittenAndNothingElse(string $request, string $response, string $cleanRequest, string $cleanResponse, int $count): void
    {
        $folder = new Folder();
        $exchange = new Exchange(0, 'http://lantern.test/', 'GET', new \DateTimeImmutable('2024-11-03'), $folder->file('request', $request), $folder->file('response', $response));
        self::assertSame($count, Secrets::overwrite($exchange));
        self::assertSame([$cleanRequest, $cleanResponse], [file_get_contents($exchange->requestPath), file_get_contents($exchange->responsePath)]);
        self::assertSame([\strlen($request), \strlen($response)], [\strlen($cleanRequest), \strlen($cleanResponse)]);
        self::assertSame($count, Secrets::overwrite($exchange), 'twice is as once');
        self::assertSame($cleanRequest, file_get_contents($exchange->requestPath));
    }

    /** @return iterable<string, array{string, string, string, string, int}> */
    public static function messages(): iterable
    {
        $get = "GET / HTTP/1.1\r\nHost: lantern.test\r\n";
        $ok = "HTTP/1.1 200 OK\r\nContent-Length: 4\r\n";
        yield 'nothing to hide' => [$get."\r\n", $ok."\r\nbody", $get."\r\n", $ok."\r\nbody", 0];
        yield 'cookies both ways' => [$get."Cookie: a=one; b=t=wo\r\n\r\n", $ok."Set-Cookie: a=new; Path=/; HttpOnly\r\nset-cookie:b=x\r\n\r\nbody", $get."Cookie: a=xxx; b=xxxx\r\n\r\n", $ok."Set-Cookie: a=xxx; Path=/; HttpOnly\r\nset-cookie:b=x\r\n\r\nbody", 3];
        yield 'a scheme stays, its secret goes' => [$get."Authorization: Bearer abc.def=\r\nProxy-Authorization: raw\r\n\r\n", $ok."\r\nbody", $get."Authorization: Bearer xxxxxxxx\r\nProxy-Authorization: xxx\r\n\r\n", $ok."\r\nbody", 2];
        yield 'a folded line' => [$get."Cookie: a=one;\r\n b=two\r\nX: y\r\n\r\n", $ok."\r\nbody", $get."Cookie: a=xxx;\r\n b=xxx\r\nX: y\r\n\r\n", $ok."\r\nbody", 1];
        yield 'an interim answer before' => [$get."\r\n", "HTTP/1.1 103 Early Hints\r\nSet-Cookie: a=one\r\n\r\n".$ok."Set-Cookie: b=two\r\n\r\nbody", $get."\r\n", "HTTP/1.1 103 Early Hints\r\nSet-Cookie: a=xxx\r\n\r\n".$ok."Set-Cookie: b=xxx\r\n\r\nbody", 2];
        yield 'a body that looks like a head' => ["POST / HTTP/1.1\r\nContent-Length: 14\r\n\r\nCookie: a=one\n", $ok."\r\nSet-Cookie: a=one\r\n\r\n", "POST / HTTP/1.1\r\nContent-Length: 14\r\n\r\nCookie: a=one\n", $ok."\r\nSet-Cookie: a=one\r\n\r\n", 0];
        yield 'other fields of like names' => [$get."X-Cookie: a=one\r\nAuthorization-Info: x1\r\n\r\n", $ok."\r\nbody", $get."X-Cookie: a=one\r\nAuthorization-Info: x1\r\n\r\n", $ok."\r\nbody", 0];
    }

    public function testACookiesFileIsRead(): void
    {
        $cookies = Cookie::file("# a remark\r\n\r\n.lantern.test\tTRUE\t/\tFALSE\t0\ta\tone\n#HttpOnly_www.lantern.test\tFALSE\t/x\tTRUE\t1999999999\tb\ttwo=2\n");
        self::assertEquals([new Cookie('lantern.test', true, '/', false, 'a', 'one'), new Cookie('www.lantern.test', false, '/x', true, 'b', 'two=2')], $cookies);
        self::assertSame([], Cookie::file(''));
    }

    #[DataProvider('badFiles')]
    public function testALineThatIsNoCookieIsNamed(string $text, string $line): void
    {
        $this->expectException(\InvalidArgumentException::class);
        $this->expectExceptionMessage($line);
        Cookie::file($text);
    }

    /** @return iterable<string, array{string, string}> */
    public static function badFiles(): iterable
    {
        yield 'too few columns' => ["# x\nlantern.test\tTRUE\t/", 'Line 2'];
        yield 'no domain' => ["\tTRUE\t/\tFALSE\t0\ta\tone", 'Line 1'];
        yield 'another field smuggled in' => ["lantern.test\tTRUE\t/\tFALSE\t0\ta\tone; b=two", 'Line 1'];
    }
}
