<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Fetch;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Fetch\Cookie;
use Ypomna\Core\Fetch\Exchange;
use Ypomna\Core\Fetch\Overwritten;
use Ypomna\Core\Fetch\Secrets;
use Ypomna\Core\Fetch\SocketLog;
use Ypomna\Core\FilePieces;
use Ypomna\Core\Http\Body;
use Ypomna\Core\Http\Message;
use Ypomna\Core\Http\WebSocket\MessageKind;
use Ypomna\Core\Http\WebSocket\SocketMessage;
use Ypomna\Tests\Support\Folder;

final class SecretsTest extends TestCase
{
    private const NOBODYS = [[], []];

    #[DataProvider('messages')]
    public function testWhatSignsAPersonInIsOverwrittenAndNothingElse(
        string $request,
        string $response,
        string $cleanRequest,
        string $cleanResponse,
        int $count,
    ): void {
        $exchange = $this->exchange($request, $response);
        $done = (new Secrets(...self::NOBODYS))->overwrite([$exchange]);
        self::assertSame($count, array_sum(array_map(static fn (Overwritten $one): int => \count($one->places), $done)));
        self::assertSame(
            [$cleanRequest, $cleanResponse], [file_get_contents($exchange->requestPath), file_get_contents($exchange->responsePath)],
        );
        self::assertSame([\strlen($request), \strlen($response)], [\strlen($cleanRequest), \strlen($cleanResponse)]);
        foreach ($done as $one) {
            self::assertSame(
                hash('sha256', 'request' === $one->part ? $request : $response), $one->sha256, 'The digest is that of what was received.',
            );
            foreach ($one->places as [$from, $length]) {
                self::assertMatchesRegularExpression(
                    '/^x(?:[x;\s=a-z]*x)?$/', substr('request' === $one->part ? $cleanRequest : $cleanResponse, $from, $length),
                );
            }
        }
        self::assertSame([], (new Secrets(...self::NOBODYS))->overwrite([$exchange]), 'twice is as once');
        self::assertSame($cleanRequest, file_get_contents($exchange->requestPath));
    }

    public function testFurtherFieldsAreOverwrittenByNameAndWhereverElseTheyStand(): void
    {
        $exchange = $this->exchange(
            "GET /a?key=t0p-s3cret-key HTTP/1.1\r\nHost: lantern.test\r\nX-Key: t0p-s3cret-key\r\nX-Pin: 1234\r\nAccept-Language:"
                ." el\r\nUser-Agent: own agent of mine\r\n\r\n",
            "HTTP/1.1 302 Found\r\nLocation: /b?key=t0p-s3cret-key\r\nX-Echo: t0p-s3cret-key\r\nContent-Length:"
                ." 62\r\n\r\n<p>t0p-s3cret-key, t0p%2Ds3cret-key, 1234, own agent of mine el</p>",
        );
        $exchange->url = 'http://lantern.test/a?key=t0p-s3cret-key';
        $done = (new Secrets(
            ['X-Key' => 't0p-s3cret-key', 'X-Pin' => '1234', 'Accept-Language' => 'el', 'User-Agent' => 'own agent of mine'], [],
        ))
            ->overwrite([$exchange]);
        self::assertSame(
            "GET /a?key=xxxxxxxxxxxxxx HTTP/1.1\r\nHost: lantern.test\r\nX-Key: xxxxxxxxxxxxxx\r\nX-Pin: xxxx\r\nAccept-Language:"
                ." el\r\nUser-Agent: own agent of mine\r\n\r\n",
            file_get_contents($exchange->requestPath),
        );
        self::assertSame(
            "HTTP/1.1 302 Found\r\nLocation: /b?key=xxxxxxxxxxxxxx\r\nX-Echo: xxxxxxxxxxxxxx\r\nContent-Length:"
                ." 62\r\n\r\n<p>xxxxxxxxxxxxxx, t0p%2Ds3cret-key, 1234, own agent of mine el</p>",
            file_get_contents($exchange->responsePath),
        );
        self::assertSame('http://lantern.test/a?key=xxxxxxxxxxxxxx', $exchange->url);
        self::assertCount(2, $done);
    }

    public function testInBodiesAValueIsFoundInWhateverWayItIsWritten(): void
    {
        $token = 'a/b+c"d&e=0123';
        $ways = [
            $token,
            rawurlencode($token),
            urlencode($token),
            htmlspecialchars($token, \ENT_QUOTES),
            substr((string) json_encode($token), 1, -1),
        ];
        $exchange = $this->exchange(
            "GET / HTTP/1.1\r\nAuthorization: Bearer {$token}\r\n\r\n",
            "HTTP/1.1 200 OK\r\nContent-Type: text/html\r\n\r\n".implode(' | ', $ways),
        );
        (new Secrets(['Authorization' => 'Bearer '.$token], []))->overwrite([$exchange]);
        $body = explode("\r\n\r\n", (string) file_get_contents($exchange->responsePath), 2)[1] ?? '';
        self::assertMatchesRegularExpression('/^[x |]+$/', $body);
        self::assertSame(array_sum(array_map(\strlen(...), $ways)) + 12, \strlen($body));
    }

    public function testWhatOneAnswerSetsIsOverwrittenInEveryOther(): void
    {
        $first = $this->exchange(
            "GET / HTTP/1.1\r\nHost: a\r\n\r\n",
            "HTTP/1.1 200 OK\r\nSet-Cookie: session=0123456789abcdef; Path=/\r\nSet-Cookie: lang=en\r\n\r\nen",
        );
        $second = $this->exchange(
            "GET /s.js HTTP/1.1\r\nCookie: session=0123456789abcdef\r\n\r\n",
            "HTTP/1.1 200 OK\r\n\r\nvar session='0123456789abcdef', lang='en'",
        );
        (new Secrets([], []))->overwrite([$second, $first]);
        self::assertStringEndsWith("var session='xxxxxxxxxxxxxxxx', lang='en'", (string) file_get_contents($second->responsePath));
        self::assertStringEndsWith("\r\n\r\nen", (string) file_get_contents($first->responsePath));
    }

    public function testTheBasicSchemeHidesItsPasswordAsWell(): void
    {
        $basic = base64_encode('ilse:correct horse');
        $exchange = $this->exchange(
            "GET / HTTP/1.1\r\nAuthorization: Basic {$basic}\r\n\r\n", "HTTP/1.1 200 OK\r\n\r\n{$basic} correct horse ilse",
        );
        (new Secrets(['Authorization' => 'Basic '.$basic], []))->overwrite([$exchange]);
        self::assertStringEndsWith(
            "\r\n\r\n".str_repeat('x', \strlen($basic)).' xxxxxxxxxxxxx ilse', (string) file_get_contents($exchange->responsePath),
        );
    }

    /** @return iterable<string, array{string, string}> fields of the answer, and its body */
    public static function codedBodies(): iterable
    {
        $body = '<p>before 0123456789abcdef behind</p>';
        $chunked = static fn (string ...$chunks): string => implode(
            '', array_map(static fn (string $chunk): string => dechex(\strlen($chunk))."\r\n{$chunk}\r\n", $chunks),
        )
            ."0\r\n\r\n";
        yield 'gzip' => ["Content-Encoding: gzip\r\nContent-Length: 99\r\n", (string) gzencode($body)];
        yield 'chunked, within one chunk' => ["Transfer-Encoding: chunked\r\n", $chunked($body)];
        yield 'chunked, across two' => ["Transfer-Encoding: chunked\r\n", $chunked(substr($body, 0, 15), substr($body, 15))];
        $packed = (string) gzencode($body);
        yield 'both' => ["Transfer-Encoding: chunked\r\nContent-Encoding: gzip\r\n", $chunked(substr($packed, 0, 9), substr($packed, 9))];
    }

    #[DataProvider('codedBodies')]
    public function testCodingsHideNothing(string $fields, string $body): void
    {
        $exchange = $this->exchange(
            "GET / HTTP/1.1\r\nCookie: s=0123456789abcdef\r\n\r\n",
            $received = "HTTP/1.1 200 OK\r\n{$fields}Content-Type: text/html\r\n\r\n".$body,
        );
        $done = (new Secrets([], []))->overwrite([$exchange]);
        $message = Message::read(FilePieces::ofFile($exchange->responsePath));
        self::assertSame(
            '<p>before xxxxxxxxxxxxxxxx behind</p>',
            Body::collect(Body::decode($message->body(), $message->head?->fields->tokens('Content-Encoding') ?? []), 1_000),
        );
        self::assertSame('text/html', $message->head?->mime());
        self::assertSame(filesize($exchange->responsePath), $exchange->responseBytes);
        self::assertSame(hash('sha256', $received), ($done[1] ?? null)?->sha256);
    }

    public function testAValueIsFoundAcrossTheBorderOfWhatIsReadAtATime(): void
    {
        foreach ([-20, -16, -8, -1, 0] as $shift) {
            $exchange = $this->exchange("GET / HTTP/1.1\r\nCookie: s=0123456789abcdef\r\n\r\n", $head = "HTTP/1.1 200 OK\r\n\r\n");
            file_put_contents($exchange->responsePath, $head.str_repeat('.', 1_048_576 + $shift).'0123456789abcdef'.str_repeat('.', 100));
            (new Secrets([], []))->overwrite([$exchange]);
            self::assertStringNotContainsString('0123456789abcdef', (string) file_get_contents($exchange->responsePath));
            self::assertSame(\strlen($head) + 1_048_576 + $shift + 116, filesize($exchange->responsePath));
        }
    }

    private ?Folder $folder = null;

    private function exchange(string $request, string $response): Exchange
    {
        $this->folder ??= new Folder();
        $name = bin2hex(random_bytes(4));
        $exchange = new Exchange(
            0, 'http://lantern.test/', 'GET', new \DateTimeImmutable('2024-11-03'), $this->folder->file($name.'.request', $request),
            $this->folder->file($name.'.response', $response),
        );
        $exchange->responseBytes = \strlen($response);

        return $exchange;
    }

    public function testInMessagesOfSocketsTheyAreOverwrittenToo(): void
    {
        $exchange = $this->exchange("GET /live HTTP/1.1\r\nCookie: sid=t0p-s3cret-key\r\n\r\n", "HTTP/1.1 101 Switching Protocols\r\n\r\n");
        $exchange->url = 'ws://lantern.test/live?key=t0p-s3cret-key';
        $exchange->messagesPath = $exchange->responsePath.'.messages';
        $log = new SocketLog(
            $exchange->messagesPath, 'ws://lantern.test/live?key=t0p-s3cret-key', null, new \DateTimeImmutable('2024-11-03'),
        );
        $log->said(0.0, true, new SocketMessage(MessageKind::Text, '{"key":"t0p-s3cret-key"}'));
        foreach (['', 'a', 'ab'] as $before) {
            $log->said(0.5, false, new SocketMessage(MessageKind::Binary, $before."\xff t0p-s3cret-key \xff"));
        }
        $log->said(0.75, false, new SocketMessage(MessageKind::Binary, "\xff nothing"));
        unset($log);
        $received = (string) hash_file('sha256', $exchange->messagesPath);
        $done = (new Secrets(...self::NOBODYS))->overwrite([$exchange]);
        $text = (string) file_get_contents($exchange->messagesPath);
        self::assertStringNotContainsString('t0p-s3cret-key', $text.implode('', array_map(
            static fn (string $bytes): string =>
                (string) base64_decode($bytes, true), preg_match_all('/"bytes":"([^"]*)"/', $text, $m) > 0 ? $m[1] : [],
        )));
        self::assertStringContainsString(base64_encode("ab\xff xxxxxxxxxxxxxx \xff"), $text);
        self::assertStringContainsString(base64_encode("\xff nothing"), $text);
        self::assertStringContainsString('{"at":0,"from":"page","text":"{\"key\":\"xxxxxxxxxxxxxx\"}"}', $text);
        $last = end($done);
        self::assertInstanceOf(Overwritten::class, $last);
        self::assertSame(['socket', $received, true, 2], [$last->part, $last->sha256, $last->recoded, \count($last->places)]);
        self::assertSame('ws://lantern.test/live?key=xxxxxxxxxxxxxx', $exchange->url);
    }

    /** @return iterable<string, array{string, string, string, string, int}> */
    public static function messages(): iterable
    {
        $get = "GET / HTTP/1.1\r\nHost: lantern.test\r\n";
        $ok = "HTTP/1.1 200 OK\r\nContent-Length: 4\r\n";
        yield 'nothing to hide' => [$get."\r\n", $ok."\r\nbody", $get."\r\n", $ok."\r\nbody", 0];
        yield 'cookies both ways' => [
            $get."Cookie: a=one; b=t=wo\r\n\r\n",
            $ok."Set-Cookie: a=new; Path=/; HttpOnly\r\nset-cookie:b=y\r\n\r\nbody",
            $get."Cookie: a=xxx; b=xxxx\r\n\r\n",
            $ok."Set-Cookie: a=xxx; Path=/; HttpOnly\r\nset-cookie:b=x\r\n\r\nbody",
            3,
        ];
        yield 'a scheme stays, its secret goes' => [
            $get."Authorization: Bearer abc.def=\r\nProxy-Authorization: raw\r\n\r\n",
            $ok."\r\nbody",
            $get."Authorization: Bearer xxxxxxxx\r\nProxy-Authorization: xxx\r\n\r\n",
            $ok."\r\nbody",
            2,
        ];
        yield 'a folded line' => [
            $get."Cookie: a=one;\r\n b=two\r\nX: y\r\n\r\n",
            $ok."\r\nbody",
            $get."Cookie: a=xxx;\r\n b=xxx\r\nX: y\r\n\r\n",
            $ok."\r\nbody",
            1,
        ];
        yield 'an interim answer before' => [
            $get."\r\n",
            "HTTP/1.1 103 Early Hints\r\nSet-Cookie: a=one\r\n\r\n".$ok."Set-Cookie: b=two\r\n\r\nbody",
            $get."\r\n",
            "HTTP/1.1 103 Early Hints\r\nSet-Cookie: a=xxx\r\n\r\n".$ok."Set-Cookie: b=xxx\r\n\r\nbody",
            2,
        ];
        yield 'a body that looks like a head' => [
            "POST / HTTP/1.1\r\nContent-Length: 14\r\n\r\nCookie: a=one\n",
            $ok."\r\nSet-Cookie: a=one\r\n\r\n",
            "POST / HTTP/1.1\r\nContent-Length: 14\r\n\r\nCookie: a=one\n",
            $ok."\r\nSet-Cookie: a=one\r\n\r\n",
            0,
        ];
        yield 'other fields of like names' => [
            $get."X-Cookie: a=one\r\nAuthorization-Info: x1\r\n\r\n",
            $ok."\r\nbody",
            $get."X-Cookie: a=one\r\nAuthorization-Info: x1\r\n\r\n",
            $ok."\r\nbody",
            0,
        ];
    }

    public function testACookiesFileIsRead(): void
    {
        $cookies = Cookie::file(
            "# a remark\r\n\r\n.lantern.test\tTRUE\t/\tFALSE\t0\ta\tone\n"
                ."#HttpOnly_www.lantern.test\tFALSE\t/x\tTRUE\t1999999999\tb\ttwo=2\n",
        );
        self::assertEquals(
            [new Cookie('lantern.test', true, '/', false, 'a', 'one'), new Cookie('www.lantern.test', false, '/x', true, 'b', 'two=2')],
            $cookies,
        );
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
