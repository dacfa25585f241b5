<?php

declare(strict_types=1);

namespace Ypomna\Tests\Support;

use Revolt\EventLoop;
use Ypomna\App\Network\Stream;
use Ypomna\Core\Http\WebSocket\MessageReader;
use Ypomna\Core\Http\WebSocket\SocketMessage;
use Ypomna\Standin\Web\Request;
use Ypomna\Standin\Web\Response;

/** Web sockets that a server opens, each with something to say. */
final class SocketTalk
{
    private MessageReader $reader;
    /** @var list<SocketMessage> */
    private array $heard = [];
    private ?\DeflateContext $packer;

    private function __construct(private readonly Stream $client, bool $packs)
    {
        $this->reader = new MessageReader(true, $packs);
        $made = $packs ? deflate_init(\ZLIB_ENCODING_RAW) : null;
        $this->packer = false === $made ? null : $made;
    }

    /** @return Response|null null if that path has none, or nobody asks for one */
    public static function answer(Request $request): ?Response
    {
        $talk = match ($request->path) {
            '/live' => static function (self $socket): void {
                $socket->wait(0.3);
                $socket->say('Ten boats are out.');
                $socket->wait(1.2);
                $socket->say('The tide turns at noon, '.str_repeat('and noon is late, ', 40).'they say.', 3);
                $socket->sayBytes("\x00\x01\xfe\xff");
                $socket->put(0x89, 'ping');
                $socket->wait(60.0);
            },
            '/asked' => static function (self $socket): void {
                while (null !== ($message = $socket->hear())) {
                    $socket->say('You asked: '.$message->data);
                }
            },
            '/ticks' => static function (self $socket): void {
                for ($n = 1; $n < 100; ++$n) {
                    $socket->say('Tick '.$n);
                    $socket->wait(0.7);
                }
            },
            '/closes' => static function (self $socket): void {
                $socket->say('That is all.');
                $socket->put(0x88, pack('n', 4_001).'no more');
                $socket->hear();
            },
            '/broken' => static function (self $socket): void {
                $socket->say('So far so good.');
                $socket->put(0xB3, 'of no known kind');
                $socket->wait(1.0);
            },
            default => null,
        };
        $key = $request->head->fields->get('Sec-WebSocket-Key');
        if (null === $talk || null === $key) {
            return null;
        }
        $packs = str_contains(
            $request->head->fields->get('Sec-WebSocket-Extensions') ?? '', 'permessage-deflate',
        ) && '/live' === $request->path;
        $head = "HTTP/1.1 101 Switching Protocols\r\nUpgrade: websocket\r\nConnection: Upgrade\r\nSec-WebSocket-Accept: "
            .base64_encode(sha1(
                $key.'258EAFA5-E914-47DA-95CA-C5AB0DC85B11', true,
            ))."\r\n".($packs ? "Sec-WebSocket-Extensions: permessage-deflate\r\n" : '')."\r\n";

        return Response::talked($head, static function (Stream $client, string $pending) use ($talk, $packs): void {
            $socket = new self($client, $packs);
            $socket->heard = $socket->reader->push($pending);
            $talk($socket);
        });
    }

    /** @param int $pieces frames that it is sent in */
    private function say(string $text, int $pieces = 1): void
    {
        $packed = null === $this->packer ? $text : substr((string) deflate_add($this->packer, $text, \ZLIB_SYNC_FLUSH), 0, -4);
        $all = str_split($packed, max(1, intdiv(\strlen($packed), $pieces) + 1));
        foreach ($all as $n => $piece) {
            $this->put((0 === $n ? 0x01 | (null === $this->packer ? 0 : 0x40) : 0x00) | ($n === \count($all) - 1 ? 0x80 : 0), $piece);
        }
    }

    private function sayBytes(string $bytes): void
    {
        $this->put(0x82, $bytes);
    }

    private function put(int $first, string $bytes): void
    {
        $length = \strlen($bytes);
        $this->client->write(\chr($first).($length < 126 ? \chr($length) : \chr(126).pack('n', $length)).$bytes);
    }

    private function hear(): ?SocketMessage
    {
        while ([] === $this->heard) {
            $piece = $this->client->read(60.0);
            if ('' === $piece) {
                return null;
            }
            $this->heard = $this->reader->push($piece);
        }

        return array_shift($this->heard);
    }

    private function wait(float $seconds): void
    {
        $suspension = EventLoop::getSuspension();
        EventLoop::delay($seconds, static fn () => $suspension->resume());
        $suspension->suspend();
    }
}
