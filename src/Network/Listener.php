<?php

declare(strict_types=1);

namespace Ypomna\App\Network;

use Revolt\EventLoop;
use Ypomna\Core\Fetch\FailureReason;
use Ypomna\Core\Fetch\FetchFailed;

/**
 * Takes connections on loopback, with and without TLS on the same port: a client's first byte tells them apart
 * (0x16 begins a TLS handshake, RFC 8446 section 5.1).
 */
final class Listener
{
    private string $watch;

    /**
     * @param resource $socket listening, non-blocking
     * @param \Closure(Stream, bool): void $serve runs in a fiber of its own for each connection; told whether TLS was used
     * @param array<string, mixed>|\Closure(): array<string, mixed> $tls context options for TLS, or what gives them for each connection
     */
    private function __construct(
        private $socket,
        private \Closure $serve,
        private array|\Closure $tls,
        private readonly float $patience,
    ) {
        $this->watch = EventLoop::onReadable($socket, $this->accept(...));
    }

    /**
     * @param \Closure(Stream, bool): void $serve
     * @param array<string, mixed> $tls
     *
     * @throws \RuntimeException if the port is taken
     */
    public static function open(string $address, \Closure $serve, array $tls, float $patience = 60.0): self
    {
        return self::on(self::socket($address), $serve, $tls, $patience);
    }

    /**
     * @param resource $socket
     * @param \Closure(Stream, bool): void $serve
     * @param array<string, mixed>|\Closure(): array<string, mixed> $tls
     */
    public static function on($socket, \Closure $serve, array|\Closure $tls, float $patience = 60.0): self
    {
        return new self($socket, $serve, $tls, $patience);
    }

    /**
     * @return resource
     */
    public static function socket(string $address)
    {
        $socket = @stream_socket_server(
            'tcp://'.$address,
            $code,
            $error,
            \STREAM_SERVER_BIND | \STREAM_SERVER_LISTEN,
            stream_context_create(['socket' => ['backlog' => 256, 'tcp_nodelay' => true]]),
        );
        if (false === $socket) {
            throw new \RuntimeException(\sprintf('Nothing can listen on %s: %s.', $address, $error));
        }
        stream_set_blocking($socket, false);

        return $socket;
    }

    /**
     * Whoever comes from now on is served so, without TLS.
     *
     * @param \Closure(Stream, bool): void $serve
     */
    public function lead(\Closure $serve): void
    {
        $this->serve = $serve;
        $this->tls = [];
    }

    public function port(): int
    {
        return (int) substr((string) strrchr((string) stream_socket_get_name($this->socket, false), ':'), 1);
    }

    public function close(): void
    {
        EventLoop::cancel($this->watch);
        @fclose($this->socket);
    }

    private function accept(): void
    {
        while (false !== ($client = @stream_socket_accept($this->socket, 0))) {
            EventLoop::queue(function () use ($client): void {
                try {
                    $this->welcome($client);
                } catch (FetchFailed) {
                    @fclose($client);
                }
            });
        }
    }

    /**
     * @param resource $client
     */
    private function welcome($client): void
    {
        stream_set_blocking($client, false);
        stream_set_read_buffer($client, 0);
        $until = microtime(true) + $this->patience;
        $first = '';
        while ('' === $first) {
            Stream::await($client, false, $until, 'The client said nothing.');
            $first = (string) @stream_socket_recvfrom($client, 1, \STREAM_PEEK);
            if ('' === $first) {
                throw new FetchFailed(FailureReason::Cancelled, 'The client went away.');
            }
        }
        $encrypted = "\x16" === $first;
        if ($encrypted) {
            stream_context_set_option($client, ['ssl' => $this->tls instanceof \Closure ? ($this->tls)() : $this->tls]);
            do {
                $done = @stream_socket_enable_crypto(
                    $client, true, \STREAM_CRYPTO_METHOD_TLSv1_2_SERVER | \STREAM_CRYPTO_METHOD_TLSv1_3_SERVER,
                );
                if (0 === $done) {
                    Stream::await($client, false, $until, 'The client did not finish the handshake.');
                }
            } while (0 === $done);
            if (true !== $done) {
                throw new FetchFailed(FailureReason::Tls, 'The client did not accept the handshake.');
            }
        }
        ($this->serve)(new Stream($client, $this->patience), $encrypted);
    }

    /** Lets the connections that a browser left behind come to their end. */
    public static function drain(): void
    {
        $suspension = EventLoop::getSuspension();
        EventLoop::delay(0.05, static fn () => $suspension->resume());
        $suspension->suspend();
    }
}
