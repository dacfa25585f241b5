<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Fetch;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Fetch\AddressGuard;
use Ypomna\Core\Fetch\Ask;
use Ypomna\Core\Fetch\FailureReason;
use Ypomna\Core\Fetch\FetchFailed;
use Ypomna\Core\Fetch\Gateway;
use Ypomna\Core\Fetch\Limits;
use Ypomna\Core\Fetch\Pathfinder;
use Ypomna\Tests\Support\Folder;
use Ypomna\Tests\Support\PlayedNames;
use Ypomna\Tests\Support\PlayedPeer;
use Ypomna\Tests\Support\PlayedWeb;

final class GatewayTest extends TestCase
{
    private const ASK = "GET /a?b HTTP/1.1\r\nHost: lantern.example\r\nSec-Fetch-Dest: image\r\n\r\n";
    private const SOCKET = "GET /tide HTTP/1.1\r\nHost: lantern.example\r\nConnection: Upgrade\r\nUpgrade:"
        ." websocket\r\nSec-WebSocket-Version: 13\r\nSec-WebSocket-Key: dGhlIHNhbXBsZSBub25jZQ==\r\n\r\n";

    private Folder $folder;
    private float $clock = 0.0;

    protected function setUp(): void
    {
        $this->folder = new Folder();
    }

    #[DataProvider('answers')]
    public function testEveryByteIsPassedOnAndWrittenDown(string $answer): void
    {
        foreach ([[$answer], str_split($answer, 7), str_split($answer)] as $pieces) {
            $web = new PlayedWeb($pieces);
            $client = new PlayedPeer([self::ASK]);
            $gateway = $this->gateway($web);
            $gateway->serve($client, false);
            $exchange = $gateway->exchanges()[0];
            self::assertSame($answer, $client->heard);
            self::assertSame($answer, file_get_contents($exchange->responsePath));
            self::assertSame(self::ASK, file_get_contents($exchange->requestPath));
            self::assertSame(self::ASK, $web->peers[0]->heard);
            self::assertSame(
                ['http://lantern.example/a?b', 200, '8.8.4.4', 'image', null],
                [$exchange->url, $exchange->status, $exchange->ip, $exchange->destination, $exchange->truncated],
            );
            self::assertTrue($client->closed && $web->peers[0]->closed);
            self::assertSame(0, $gateway->open());
            array_map(unlink(...), [$exchange->requestPath, $exchange->responsePath]);
        }
    }

    /**
     * @return iterable<string, array{string}>
     */
    public static function answers(): iterable
    {
        yield 'length' => ["HTTP/1.1 200 OK\r\nContent-Type: text/plain\r\nContent-Length: 5\r\n\r\nhello"];
        yield 'chunked with extension and trailer' => [
            "HTTP/1.1 200 OK\r\nTransfer-Encoding: chunked\r\n\r\n5;x=y\r\nhello\r\n0\r\nX-Sum: 1\r\n\r\n",
        ];
        yield 'until close' => ["HTTP/1.0 200 OK\r\n\r\nhello"];
        yield 'empty' => ["HTTP/1.1 200 OK\r\nContent-Length: 0\r\n\r\n"];
        yield 'odd head' => ["HTTP/1.1 200 \r\nX-Odd:  y \r\nbroken line\r\ncontent-length:2\r\n\r\nok"];
        yield 'interim answers' => ["HTTP/1.1 103 Early Hints\r\nLink: </a>\r\n\r\nHTTP/1.1 200 OK\r\nContent-Length: 2\r\n\r\nok"];
    }

    public function testSeveralExchangesShareAConnection(): void
    {
        $answer = "HTTP/1.1 200 OK\r\nContent-Length: 2\r\n\r\nok";
        $web = new PlayedWeb([$answer, $answer]);
        $gateway = $this->gateway($web);
        $gateway->serve(new PlayedPeer([self::ASK, self::ASK]), false);
        self::assertCount(2, $gateway->exchanges());
        self::assertCount(1, $web->connections);
    }

    public function testAConnectionThatWasClosedInTheMeantimeIsOpenedAnew(): void
    {
        $answer = "HTTP/1.1 200 OK\r\nContent-Length: 2\r\n\r\nok";
        $web = new PlayedWeb([$answer], [$answer]);
        $client = new PlayedPeer([self::ASK, self::ASK]);
        $gateway = $this->gateway($web);
        $gateway->serve($client, false);
        self::assertCount(2, $web->connections);
        self::assertSame($answer.$answer, $client->heard);
    }

    public function testARequestsBodyIsWrittenDownToo(): void
    {
        $ask = "POST /a HTTP/1.1\r\nHost: lantern.example\r\nContent-Length: 3\r\n\r\n";
        $gateway = $this->gateway(new PlayedWeb(["HTTP/1.1 204 No Content\r\n\r\n"]));
        $gateway->serve(new PlayedPeer([$ask, 'a=', 'b']), false);
        self::assertSame($ask.'a=b', file_get_contents($gateway->exchanges()[0]->requestPath));
        self::assertSame('POST', $gateway->exchanges()[0]->method);
    }

    /**
     * @param list<string|FailureReason> $pieces
     */
    #[DataProvider('accidents')]
    public function testWhatGoesWrongIsNoted(array $pieces, FailureReason $reason, ?string $truncated, bool $answered): void
    {
        $gateway = $this->gateway(new PlayedWeb($pieces));
        $gateway->serve(new PlayedPeer([self::ASK]), false);
        $exchange = $gateway->exchanges()[0];
        self::assertSame(
            [$reason, $truncated, $answered, true], [$exchange->failure, $exchange->truncated, $exchange->isAnswered(), $exchange->ended],
        );
        self::assertNotSame('', $exchange->message);
    }

    /**
     * @return iterable<string, array{list<string|FailureReason>, FailureReason, string|null, bool}>
     */
    public static function accidents(): iterable
    {
        yield 'ends before its length' => [
            ["HTTP/1.1 200 OK\r\nContent-Length: 50\r\n\r\nhello"], FailureReason::BadResponse, 'disconnect', true,
        ];
        yield 'ends before its last chunk' => [
            ["HTTP/1.1 200 OK\r\nTransfer-Encoding: chunked\r\n\r\n5\r\nhel"], FailureReason::BadResponse, 'disconnect', true,
        ];
        yield 'falls silent' => [
            ["HTTP/1.1 200 OK\r\nContent-Length: 50\r\n\r\nhello", FailureReason::Timeout], FailureReason::Timeout, 'time', true,
        ];
        yield 'says nothing' => [[], FailureReason::BadResponse, null, false];
        yield 'is reset' => [[FailureReason::BadResponse], FailureReason::BadResponse, null, false];
        yield 'is no HTTP' => [["SSH-2.0-OpenSSH\r\n\r\n"], FailureReason::BadResponse, null, false];
        yield 'a head without end' => [[str_repeat('x', 300_000)], FailureReason::BadResponse, null, false];
    }

    public function testClosedNetworksAndStreamsAreRefused(): void
    {
        $gateway = $this->gateway(new PlayedWeb());
        foreach ([
            "Host: 127.0.0.1:8020\r\n" => FailureReason::Guarded,
            "Host: inside.example\r\n" => FailureReason::Guarded,
            "Host: lantern.example\r\nConnection: Upgrade\r\nUpgrade: websocket\r\n" => FailureReason::NotRecordable,
            "Host: nowhere.example\r\n" => FailureReason::NoHost,
        ] as $fields => $reason) {
            $gateway->serve($client = new PlayedPeer(["GET / HTTP/1.1\r\n".$fields."\r\n"]), false);
            $exchanges = $gateway->exchanges();
            self::assertSame($reason, end($exchanges)->failure ?? null);
            self::assertSame('', $client->heard);
        }
    }

    public function testASocketIsPassedOnUnchangedAndItsMessagesAreWrittenDown(): void
    {
        $opened = "HTTP/1.1 101 Switching Protocols\r\nUpgrade: websocket\r\nConnection: Upgrade\r\nSec-WebSocket-Protocol: tide\r\n\r\n";
        $said = "\x81\x05Hello\x82\x02\xfe\xff";
        $masked = "\x81\x85\x37\xfa\x21\x3d\x7f\x9f\x4d\x51\x58";
        foreach ([
            [[self::SOCKET.$masked], [$opened.$said]],
            [[self::SOCKET, ...str_split($masked)], [...str_split($opened), ...str_split($said)]],
        ] as [$asks, $answers]) {
            $web = new PlayedWeb($answers);
            $client = new PlayedPeer($asks, stays: true);
            $gateway = $this->gateway($web, folder: new Folder(), together: self::inTurn(...));
            $gateway->serve($client, false);
            $exchange = $gateway->exchanges()[0];
            self::assertSame([self::SOCKET.$masked, $opened.$said], [$web->peers[0]->heard, $client->heard]);
            self::assertSame(
                [self::SOCKET, $opened], [file_get_contents($exchange->requestPath), file_get_contents($exchange->responsePath)],
            );
            self::assertSame(['ws://lantern.example/tide', 101, null, null, 'websocket', 0], [
                $exchange->url, $exchange->status, $exchange->failure, $exchange->truncated, $exchange->destination, $gateway->open(),
            ]);
            $lines = array_map(
                static fn (string $line): mixed => json_decode($line, true),
                \array_slice(explode("\x1E", (string) file_get_contents((string) $exchange->messagesPath)), 1),
            );
            self::assertSame(
                ['socket' => 'ws://lantern.example/tide', 'protocol' => 'tide', 'opened' => '2024-11-03T00:00:00.000Z'], $lines[0],
            );
            $without = array_map(
                static fn (mixed $line): mixed => \is_array($line) ? array_diff_key($line, ['at' => 0]) : null, \array_slice($lines, 1),
            );
            self::assertSame(
                [
                    ['from' => 'page', 'text' => 'Hello'], ['from' => 'server', 'text' => 'Hello'],
                    ['from' => 'server', 'bytes' => '/v8='], ['end' => true],
                ],
                $without,
            );
        }
    }

    public function testLimitsAndWhatCannotBeReadOfASocketAreTold(): void
    {
        $opened = "HTTP/1.1 101 Switching Protocols\r\nUpgrade: websocket\r\nConnection: Upgrade\r\n";
        foreach ([
            'too much' => [[$opened."\r\n", "\x82\x7e\x0f\xa0".str_repeat('x', 4_000)], FailureReason::Limit],
            'an extension' => [[$opened."Sec-WebSocket-Extensions: x-own\r\n\r\n\x81\x02ok"], FailureReason::NotRecordable],
            'no frame' => [[$opened."\r\n".str_repeat("\xff", 20)], FailureReason::NotRecordable],
            'not opened' => [["HTTP/1.1 200 OK\r\nContent-Length: 2\r\n\r\nok"], FailureReason::NotRecordable],
            'refused' => [["HTTP/1.1 403 Forbidden\r\nContent-Length: 0\r\n\r\n"], null],
            'closed without a word' => [[$opened."\r\n"], null],
        ] as $what => [$pieces, $reason]) {
            $gateway = $this->gateway(
                new PlayedWeb($pieces), new Limits(maxBytes: 1_000), folder: new Folder(), together: self::inTurn(...),
            );
            $gateway->serve(new PlayedPeer([self::SOCKET], stays: true), false);
            self::assertSame($reason, $gateway->exchanges()[0]->failure, $what);
        }
    }

    public function testWhatIsSaidWhenThePageIsReadReachesNobody(): void
    {
        $opened = "HTTP/1.1 101 Switching Protocols\r\nUpgrade: websocket\r\nConnection: Upgrade\r\nSec-WebSocket-Protocol: \xff\r\n\r\n";
        $gateway = $this->gateway(new PlayedWeb([$opened, "\x81\x05Hello"]), folder: new Folder(), together: self::inTurn(...));
        $gateway->holdSockets();
        $gateway->serve($client = new PlayedPeer([self::SOCKET], stays: true), false);
        self::assertSame($opened, $client->heard);
        $said = (string) file_get_contents((string) $gateway->exchanges()[0]->messagesPath);
        self::assertStringNotContainsString('Hello', $said);
        self::assertStringContainsString("\"protocol\":\"\u{FFFD}\"", $said);
        self::assertNull($gateway->exchanges()[0]->failure);
    }

    public function testASocketIsHeldToTheSameWallsAsARequest(): void
    {
        $gateway = $this->gateway(new PlayedWeb(), together: self::inTurn(...));
        foreach ([
            '127.0.0.1:8020' => FailureReason::Guarded, 'inside.example' => FailureReason::Guarded,
            'nowhere.example' => FailureReason::NoHost,
        ] as $host => $reason) {
            $gateway->serve($client = new PlayedPeer([str_replace('lantern.example', $host, self::SOCKET)]), false);
            $exchanges = $gateway->exchanges();
            self::assertSame([$reason, 'ws://'.$host.'/tide'], [end($exchanges)->failure ?? null, end($exchanges)->url ?? '']);
            self::assertSame('', $client->heard);
        }
    }

    /** @param list<\Closure(): void> $tasks */
    private static function inTurn(array $tasks): void
    {
        $fibers = array_map(static fn (\Closure $task): \Fiber => new \Fiber($task), $tasks);
        while ([] !== $fibers) {
            foreach ($fibers as $fiber) {
                $fiber->isStarted() ? $fiber->resume() : $fiber->start();
            }
            $fibers = array_filter($fibers, static fn (\Fiber $fiber): bool => !$fiber->isTerminated());
        }
    }

    public function testTheBrowsersOwnServicesAreNotAskedButAPageMayAskThem(): void
    {
        $web = new PlayedWeb(["HTTP/1.1 200 OK\r\nContent-Length: 0\r\n\r\n"]);
        $gateway = $this->gateway($web, closed: ['*.lantern.example', 'lantern.example']);
        $gateway->serve(new PlayedPeer(["GET /update HTTP/1.1\r\nHost: lantern.example\r\n\r\n"]), false);
        self::assertSame([], $gateway->exchanges());
        $gateway->serve(new PlayedPeer([self::ASK]), false);
        self::assertCount(1, $gateway->exchanges());
    }

    public function testLimitsCutAnAnswerOff(): void
    {
        $answer = "HTTP/1.1 200 OK\r\nContent-Length: 4000\r\n\r\n";
        $gateway = $this->gateway(new PlayedWeb([$answer, ...array_fill(0, 40, str_repeat('x', 100))]), new Limits(maxBytes: 1_000));
        $gateway->serve(new PlayedPeer([self::ASK]), false);
        self::assertSame([FailureReason::Limit, 'length'], [$gateway->exchanges()[0]->failure, $gateway->exchanges()[0]->truncated]);
        self::assertSame(\strlen($answer) + 1_000, filesize($gateway->exchanges()[0]->responsePath));
    }

    public function testAPageThatGivesUpIsToldFromAPlayerThatWaits(): void
    {
        $body = str_repeat('x', 4_000);
        foreach (['image/png' => 'disconnect', 'video/mp4' => null] as $type => $truncated) {
            $gateway = $this->gateway(
                new PlayedWeb(["HTTP/1.1 200 OK\r\nContent-Type: {$type}\r\nContent-Length: 8000\r\n\r\n", $body, $body]),
                folder: new Folder(),
            );
            $gateway->serve(new PlayedPeer([self::ASK], 3_000), false);
            self::assertSame($truncated, $gateway->exchanges()[0]->truncated);
        }
    }

    public function testAFileIsFetchedWithoutTheBrowser(): void
    {
        $gateway = $this->gateway(new PlayedWeb(["HTTP/1.1 200 OK\r\nContent-Length: 2\r\n\r\nok"]));
        $gateway->fetch(Url::parse('http://lantern.example/v.mp4?x'), 'Test');
        self::assertStringStartsWith(
            "GET /v.mp4?x HTTP/1.1\r\nHost: lantern.example\r\n", (string) file_get_contents($gateway->exchanges()[0]->requestPath),
        );
    }

    public function testAStreamIsNotWaitedForAndItsBeginningKept(): void
    {
        $gateway = $this->gateway(new PlayedWeb([
            "HTTP/1.1 200 OK\r\nContent-Type: text/event-stream\r\n\r\n", "data: one\n\n", FailureReason::Timeout,
        ]));
        $gateway->serve(new PlayedPeer([self::ASK]), false);
        $exchange = $gateway->exchanges()[0];
        self::assertSame([true, FailureReason::NotRecordable, 0], [$exchange->stream, $exchange->failure, $gateway->open()]);
        self::assertStringEndsWith("data: one\n\n", (string) file_get_contents($exchange->responsePath));
        self::assertFalse($gateway->limited());
    }

    public function testOnlyARangeThatCoversAllIsWhole(): void
    {
        foreach (['bytes 0-4/5' => false, 'bytes 0-3/5' => true, 'bytes 1-4/5' => true, 'bytes 0-4/*' => true] as $range => $partial) {
            $gateway = $this->gateway(
                new PlayedWeb(["HTTP/1.1 206 Partial Content\r\nContent-Range: {$range}\r\nContent-Length: 2\r\n\r\nok"]),
                folder: new Folder(),
            );
            $gateway->serve(new PlayedPeer([self::ASK]), false);
            self::assertSame($partial, $gateway->exchanges()[0]->partial, $range);
        }
    }

    public function testASiteThatAsksNotToBeFetchedIsNotConnectedTo(): void
    {
        $web = new PlayedWeb(["HTTP/1.1 200 OK\r\nContent-Length: 2\r\n\r\nok"]);
        $finder = new Pathfinder(new PlayedNames(['lantern.example' => ['8.8.4.4']]), $web, new AddressGuard());
        $gateway = new Gateway(
            $finder,
            $this->folder->path,
            new Limits(),
            static fn (): \DateTimeImmutable => new \DateTimeImmutable('2024-11-03'),
            fn (): float => $this->clock += 0.01,
            [],
            static fn (Url $url): bool => '/a' !== $url->path,
        );
        $gateway->serve(new PlayedPeer([self::ASK]), false);
        self::assertSame([[], FailureReason::Robots], [$web->connections, $gateway->exchanges()[0]->failure]);
        self::assertSame(200, $gateway->fetch(Url::parse('http://lantern.example/b'), 'Test')?->status);
    }

    public function testAfterTheEndNothingIsAskedFor(): void
    {
        $gateway = $this->gateway(new PlayedWeb(["HTTP/1.1 200 OK\r\nContent-Length: 2\r\n\r\nok"]));
        $gateway->stop(false);
        self::assertNull($gateway->fetch(Url::parse('http://lantern.example/b'), 'Test'));
        self::assertSame([[], false], [$gateway->exchanges(), $gateway->limited()]);
        $gateway->stop();
        self::assertTrue($gateway->limited());
    }

    public function testRedirectsAreFollowedThroughTheGuard(): void
    {
        $answer = static fn (string $location): array => ["HTTP/1.1 302 Found\r\nLocation: {$location}\r\nContent-Length: 0\r\n\r\n"];
        $ask = new Ask(
            $this->gateway(new PlayedWeb(
                $answer('/b#x'), ["HTTP/1.1 200 OK\r\nContent-Encoding: gzip\r\nConnection: close\r\n\r\n".gzencode('read')],
            )),
            'Test',
        );
        $read = $ask->get(Url::parse('http://lantern.example/a'), ['X-Own' => "one\r\nX-Other: two"]);
        self::assertSame(['http://lantern.example/b', 'read'], [(string) $read->url, $read->text(100)]);
        self::assertStringContainsString("X-Own: one X-Other: two\r\n", (string) file_get_contents($read->exchange->requestPath));
        foreach ([
            'http://inside.example/' => FailureReason::Guarded, 'http://127.0.0.1/' => FailureReason::Guarded,
        ] as $location => $reason) {
            try {
                (new Ask($this->gateway(new PlayedWeb($answer($location)), folder: new Folder()), 'Test'))
                    ->get(Url::parse('http://lantern.example/a'));
                self::fail('It was fetched.');
            } catch (FetchFailed $e) {
                self::assertSame($reason, $e->reason, $location);
            }
        }
        self::assertSame(
            302,
            (new Ask($this->gateway(new PlayedWeb($answer('javascript:alert(1)')), folder: new Folder()), 'Test'))
                ->get(Url::parse('http://lantern.example/a'))->head->status,
        );
        $this->expectException(FetchFailed::class);
        (new Ask($this->gateway(new PlayedWeb(...array_fill(0, 9, $answer('/a'))), folder: new Folder()), 'Test'))
            ->get(Url::parse('http://lantern.example/a'));
    }

    public function testADiskThatTakesNoMoreIsAFault(): void
    {
        $gateway = $this->gateway(new PlayedWeb(["HTTP/1.1 200 OK\r\nContent-Length: 2\r\n\r\nok"]));
        chmod($this->folder->path, 0o755);
        symlink('/dev/full', $this->folder->path.'/000000.request');
        $gateway->serve(new PlayedPeer([self::ASK]), false);
        self::assertNotNull($gateway->fault());
    }

    /**
     * @param list<string> $closed
     * @param (\Closure(list<\Closure(): void>): mixed)|null $together
     */
    private function gateway(
        PlayedWeb $web,
        Limits $limits = new Limits(),
        array $closed = [],
        ?Folder $folder = null,
        ?\Closure $together = null,
    ): Gateway {
        $finder = new Pathfinder(
            new PlayedNames(['lantern.example' => ['8.8.4.4'], 'inside.example' => ['192.168.7.7']]), $web, new AddressGuard(),
        );
        $this->folder = $folder ?? $this->folder;

        return new Gateway(
            $finder, $this->folder->path, $limits, static fn (): \DateTimeImmutable => new \DateTimeImmutable('2024-11-03'),
            fn (): float => $this->clock += 0.01, $closed, together: $together,
        );
    }
}
