<?php

declare(strict_types=1);

namespace Ypomna\Tests\Support;

use Ypomna\App\Network\WebAccess;

/** A server on a port of its own that behaves and misbehaves by the path it is asked for (live.php). */
final class LivePlay
{
    public readonly int $port;
    /** @var resource */
    private $server;

    public function __construct()
    {
        $free = stream_socket_server('tcp://127.0.0.1:0');
        if (false === $free) {
            throw new \RuntimeException('There is no free port.');
        }
        $this->port = (int) substr((string) strrchr((string) stream_socket_get_name($free, false), ':'), 1);
        fclose($free);
        $server = proc_open(
            ['php', __DIR__.'/live.php', (string) $this->port],
            [['file', '/dev/null', 'r'], ['pipe', 'w'], ['file', '/dev/null', 'w']],
            $pipes,
        );
        if (false === $server || "ready\n" !== fgets($pipes[1])) {
            throw new \RuntimeException('The server does not start.');
        }
        $this->server = $server;
    }

    public function __destruct()
    {
        proc_terminate($this->server, \SIGKILL);
    }

    /** Every host name leads to it. */
    public function web(): WebAccess
    {
        return new WebAccess(resolver: 'dns://127.0.0.1:1', routes: '*:80:127.0.0.1:'.$this->port);
    }
}
