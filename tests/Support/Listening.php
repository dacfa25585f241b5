<?php

declare(strict_types=1);

namespace Ypomna\Tests\Support;

use Symfony\Component\Finder\Finder;
use Ypomna\App\Network\WebAccess;

/** A server on a port of its own that answers what a test says, by path, and writes down what it was sent (listening.php). */
final class Listening
{
    public readonly int $port;
    /** @var resource */
    private $server;

    public function __construct(private readonly Folder $folder)
    {
        $free = stream_socket_server('tcp://127.0.0.1:0');
        if (false === $free) {
            throw new \RuntimeException('There is no free port.');
        }
        $this->port = (int) substr((string) strrchr((string) stream_socket_get_name($free, false), ':'), 1);
        fclose($free);
        $server = proc_open(
            ['php', '-S', '127.0.0.1:'.$this->port, __DIR__.'/listening.php'],
            [['file', '/dev/null', 'r'], ['file', '/dev/null', 'w'], ['file', '/dev/null', 'w']],
            $pipes,
            null,
            ['LISTENING_FOLDER' => $folder->path] + getenv(),
        );
        if (false === $server) {
            throw new \RuntimeException('The server does not start.');
        }
        $this->server = $server;
        for ($n = 0; $n < 200 && false === ($open = @fsockopen('127.0.0.1', $this->port)); ++$n) {
            usleep(20_000);
        }
    }

    public function __destruct()
    {
        proc_terminate($this->server, \SIGKILL);
    }

    public function answers(string $path, string $body, int $status = 200, string $type = 'text/plain'): void
    {
        $this->folder->file('answer-'.hash('sha256', $path), serialize([$status, $type, $body]));
    }

    /**
     * @return list<array{method: string, path: string, fields: array<string, string>, body: string}> what it was sent, in order; names of
     *     fields in lower case
     */
    public function sent(): array
    {
        $sent = [];
        foreach (Finder::create()->files()->in($this->folder->path)->name('sent-*')->sortByName() as $file) {
            /** @var array{method: string, path: string, fields: array<string, string>, body: string} $one */
            $one = unserialize($file->getContents(), ['allowed_classes' => false]);
            $sent[] = $one;
        }

        return $sent;
    }

    /** Every host name leads to it. */
    public function web(): WebAccess
    {
        return new WebAccess(resolver: 'dns://127.0.0.1:1', routes: '*:80:127.0.0.1:'.$this->port);
    }
}
