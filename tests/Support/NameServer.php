<?php

declare(strict_types=1);

namespace Ypomna\Tests\Support;

use Symfony\Component\Process\Process;

/** A name server on loopback that says what a test wants (names.php). */
final class NameServer
{
    public readonly string $dsn;
    private readonly Process $process;
    private readonly string $file;

    public function __construct(Folder $folder)
    {
        $this->file = $folder->file('names', '');
        $free = stream_socket_server('udp://127.0.0.1:0', $code, $error, \STREAM_SERVER_BIND);
        if (false === $free) {
            throw new \RuntimeException('There is no free port.');
        }
        $at = (string) stream_socket_get_name($free, false);
        fclose($free);
        $this->dsn = 'dns://'.$at;
        $this->process = new Process(['php', __DIR__.'/names.php', $at, $this->file]);
        $this->process->start();
    }

    /** @param array<string, string> $names addresses by name */
    public function say(array $names): void
    {
        $lines = array_map(static fn (string $name, string $address): string => $name.' '.$address, array_keys($names), $names);
        file_put_contents($this->file, implode("\n", $lines));
    }

    public function end(): void
    {
        $this->process->stop(0);
    }
}
