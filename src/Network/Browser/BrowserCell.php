<?php

declare(strict_types=1);

namespace Ypomna\App\Network\Browser;

use Ypomna\App\Shared\Settings;

/**
 * A network of a browser's own, of which one listening socket is all that there is: nothing else can be reached from it, by
 * whatever protocol.
 */
final class BrowserCell
{
    private const SECONDS = 15;

    private function __construct(private ?\Socket $door, private readonly string $path)
    {
    }

    /** Whether this machine allows it: that is refused in many ways, so it is tried. */
    public static function isPossible(): bool
    {
        if (!\function_exists('pcntl_unshare') || !\function_exists('socket_recvmsg')) {
            return false;
        }
        try {
            $cell = self::prepare();
            $process = @proc_open(
                [...$cell->command(), '/bin/true'],
                [['file', '/dev/null', 'r'], ['file', '/dev/null', 'w'], ['file', '/dev/null', 'w']],
                $pipes,
            );
            if (false === $process) {
                return false;
            }
            try {
                fclose($cell->socket(static fn (): bool => proc_get_status($process)['running']));
            } finally {
                proc_close($process);
            }

            return true;
        } catch (BrowserFailed) {
            return false;
        }
    }

    /**
     * @throws BrowserFailed
     */
    public static function prepare(): self
    {
        $path = sys_get_temp_dir();
        $path = (\strlen($path) > 70 ? '/tmp' : $path).'/ypomna-cell-'.bin2hex(random_bytes(6));
        $door = socket_create(\AF_UNIX, \SOCK_STREAM, 0);
        $mask = umask(0o077);
        $bound = false !== $door && @socket_bind($door, $path) && socket_listen($door, 1);
        umask($mask);
        if (false === $door || !$bound) {
            throw new BrowserFailed('The browser’s network could not be made.');
        }

        return new self($door, $path);
    }

    public function __destruct()
    {
        $this->shut();
    }

    /**
     * What goes before the browser's own words.
     *
     * @return list<string>
     */
    public function command(): array
    {
        return [\PHP_BINARY, '-d', 'ffi.enable=1', Settings::program().'/bin/browser-cell', $this->path];
    }

    /**
     * The socket that listens in that network.
     *
     * @param (\Closure(): bool)|null $alive whether it is worth waiting for
     *
     * @return resource
     *
     * @throws BrowserFailed
     */
    public function socket(?\Closure $alive = null)
    {
        for ($n = 0; null !== $this->door && $n < 20 * self::SECONDS; ++$n) {
            [$read, $write, $except] = [[$this->door], null, null];
            if (0 === (int) @socket_select($read, $write, $except, 0, 50_000)) {
                if (null !== $alive && !$alive()) {
                    break;
                }
                continue;
            }
            $from = socket_accept($this->door);
            $this->shut();
            $message = ['controllen' => socket_cmsg_space(\SOL_SOCKET, \SCM_RIGHTS, 1), 'buffer_size' => 16];
            if (false === $from || false === socket_recvmsg($from, $message, 0)) {
                break;
            }
            /** @var array{control?: list<array{data?: list<mixed>}>} $message */
            $socket = $message['control'][0]['data'][0] ?? null;
            $stream = $socket instanceof \Socket ? socket_export_stream($socket) : false;
            if (false !== $stream) {
                stream_set_blocking($stream, false);

                return $stream;
            }
            break;
        }
        $this->shut();
        throw new BrowserFailed('The browser’s network could not be made.');
    }

    private function shut(): void
    {
        if (null !== $this->door) {
            socket_close($this->door);
            $this->door = null;
            @unlink($this->path);
        }
    }
}
