<?php

declare(strict_types=1);

namespace Ypomna\App\Network;

use Revolt\EventLoop;
use Ypomna\Core\Fetch\Connection;
use Ypomna\Core\Fetch\FailureReason;
use Ypomna\Core\Fetch\FetchFailed;

/**
 * A socket on the event loop: whoever reads or writes waits in its own fiber, while the others go on.
 */
final class Stream implements Connection
{
    private const PIECE = 65_536;

    private bool $closed = false;

    /**
     * @param resource $socket non-blocking
     * @param list<string> $certificates PEM, of the other side
     */
    public function __construct(private $socket, private readonly float $patience, private readonly array $certificates = [])
    {
    }

    public function read(?float $seconds = null): string
    {
        $until = microtime(true) + ($seconds ?? $this->patience);
        while (!$this->closed) {
            $piece = @fread($this->socket, self::PIECE);
            if (\is_string($piece) && '' !== $piece) {
                return $piece;
            }
            if (false === $piece || feof($this->socket)) {
                return '';
            }
            self::await($this->socket, false, $until, 'The other side was silent for too long.');
        }

        return '';
    }

    public function write(string $bytes, ?float $seconds = null): void
    {
        $seconds ??= $this->patience;
        $until = microtime(true) + $seconds;
        $idle = 0;
        while ('' !== $bytes) {
            if ($this->closed) {
                throw new FetchFailed(FailureReason::BadResponse, 'The connection is closed.');
            }
            $written = @fwrite($this->socket, substr($bytes, 0, self::PIECE));
            if (false === $written || (0 === $written && feof($this->socket)) || (0 === $written && ++$idle > 3)) {
                throw new FetchFailed(FailureReason::BadResponse, 'The connection was broken off.');
            }
            $bytes = substr($bytes, $written);
            if ($written > 0) {
                $idle = 0;
                $until = microtime(true) + $seconds;
            }
            if ('' !== $bytes) {
                self::await($this->socket, true, $until, 'The other side took nothing for too long.');
            }
        }
    }

    public function close(): void
    {
        if (!$this->closed) {
            $this->closed = true;
            @fclose($this->socket);
        }
    }

    /** Ends the connection so that the other side is told of an error (RST), not of an end. */
    public function reset(): void
    {
        if (!$this->closed && \function_exists('socket_import_stream')) {
            $socket = @socket_import_stream($this->socket);
            if ($socket instanceof \Socket) {
                @socket_set_option($socket, \SOL_SOCKET, \SO_LINGER, ['l_onoff' => 1, 'l_linger' => 0]);
            }
        }
        $this->close();
    }

    public function certificates(): array
    {
        return $this->certificates;
    }

    /**
     * Suspends the fiber until the socket is ready.
     *
     * @param resource $socket
     * @param float $until Unix time
     *
     * @throws FetchFailed when the time is over
     */
    public static function await($socket, bool $toWrite, float $until, string $otherwise): void
    {
        /** @var EventLoop\Suspension<bool> $suspension */
        $suspension = EventLoop::getSuspension();
        $wake = static function (string $watch) use ($suspension, &$timer): void {
            EventLoop::disable($watch);
            EventLoop::disable((string) $timer);
            $suspension->resume(true);
        };
        $timer = null;
        $ready = $toWrite ? EventLoop::onWritable($socket, $wake) : EventLoop::onReadable($socket, $wake);
        $timer = EventLoop::delay(max(0.0, $until - microtime(true)), static function () use ($suspension, $ready): void {
            EventLoop::disable($ready);
            $suspension->resume(false);
        });
        try {
            $inTime = $suspension->suspend();
        } finally {
            EventLoop::cancel($ready);
            EventLoop::cancel($timer);
        }
        if (!$inTime) {
            throw new FetchFailed(FailureReason::Timeout, $otherwise);
        }
    }
}
