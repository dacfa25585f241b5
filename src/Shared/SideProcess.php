<?php

declare(strict_types=1);

namespace Ypomna\App\Shared;

/**
 * A second process of this program for work that two cores do faster. It may compute and say things, nothing else: what it
 * inherits (connections, locks) is not its own, so it ends without closing any of it.
 */
final class SideProcess
{
    /**
     * @param resource $socket
     */
    private function __construct(private readonly int $id, private $socket)
    {
    }

    /**
     * @param \Closure(\Closure(string): void): void $work is given the way to say something
     *
     * @return self|null null where this PHP cannot fork: under the web server
     */
    public static function start(\Closure $work): ?self
    {
        $sockets = \function_exists('pcntl_fork') && \function_exists('posix_kill')
            ? stream_socket_pair(\STREAM_PF_UNIX, \STREAM_SOCK_STREAM, \STREAM_IPPROTO_IP)
            : false;
        $id = false === $sockets ? -1 : pcntl_fork();
        if (false === $sockets || $id < 0) {
            return null;
        }
        if ($id > 0) {
            fclose($sockets[1]);

            return new self($id, $sockets[0]);
        }
        fclose($sockets[0]);
        try {
            foreach ([\SIGTERM, \SIGINT] as $signal) {
                pcntl_signal($signal, \SIG_DFL);
            }
            $work(static function (string $message) use ($sockets): void {
                self::write($sockets[1], pack('P', \strlen($message)).$message);
            });
        } catch (\Throwable) {
            // That it said nothing more tells the other side enough.
        }
        posix_kill((int) getmypid(), \SIGKILL);
        exit(1);
    }

    public function __destruct()
    {
        $this->stop();
    }

    /** The next thing that it says; null when it has ended. */
    public function next(): ?string
    {
        $head = $this->read(8);
        $length = null === $head ? false : unpack('P', $head);

        return \is_array($length) && \is_int($length[1]) && $length[1] >= 0 ? $this->read($length[1]) : null;
    }

    /** Whether it has said something that was not heard yet, or has ended. */
    public function hasSpoken(): bool
    {
        $read = [$this->socket];
        $write = $except = null;

        return \is_resource($this->socket) && stream_select($read, $write, $except, 0) > 0;
    }

    public function stop(): void
    {
        if (!\is_resource($this->socket)) {
            return;
        }
        fclose($this->socket);
        posix_kill($this->id, \SIGKILL);
        pcntl_waitpid($this->id, $status);
    }

    private function read(int $bytes): ?string
    {
        $text = '';
        while (\strlen($text) < $bytes) {
            $piece = fread($this->socket, max(1, min(1_048_576, $bytes - \strlen($text))));
            if (false === $piece || ('' === $piece && feof($this->socket))) {
                return null;
            }
            $text .= $piece;
        }

        return $text;
    }

    /**
     * @param resource $socket
     */
    private static function write($socket, string $bytes): void
    {
        for ($at = 0; $at < \strlen($bytes); $at += $written) {
            $written = @fwrite($socket, substr($bytes, $at, 262_144));
            if (false === $written || 0 === $written) {
                throw new \RuntimeException('Nobody listens any more.');
            }
        }
    }
}
