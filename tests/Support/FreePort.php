<?php

declare(strict_types=1);

namespace Ypomna\Tests\Support;

/** Ports on which nobody listens. */
final class FreePort
{
    private const TRIES = 100;
    /** What an installation takes, from its own port on. */
    private const ROW = 5;

    /** A port whose successor is free as well, on that address, over TCP and UDP. */
    public static function pair(string $address = '127.0.0.1'): int
    {
        for ($n = 0; $n < self::TRIES; ++$n) {
            $first = stream_socket_server('tcp://'.$address.':0');
            $port = false === $first ? 0 : self::number($first);
            $second = @stream_socket_server('tcp://'.$address.':'.($port + 1));
            $named = @stream_socket_server('udp://'.$address.':'.($port + 1), $code, $error, \STREAM_SERVER_BIND);
            foreach ([$first, $second, $named] as $socket) {
                if (false !== $socket) {
                    fclose($socket);
                }
            }
            if ($port > 0 && false !== $second && false !== $named) {
                return $port;
            }
        }
        throw new \RuntimeException('This machine has no two free ports in a row.');
    }

    /**
     * The first of as many in a row as an installation takes, below those that the system gives to whoever connects to something.
     * Whoever asks as part of the same run of the tests, in this process or another, gets others.
     */
    public static function row(): int
    {
        $run = getenv('YPOMNA_TEST_TMP');
        if (false !== $run) {
            @mkdir($run.'/ports');
        }
        for ($n = 0; $n < self::TRIES; ++$n) {
            $port = random_int(1000, 1970) * 10;
            $open = array_filter(array_map(
                static fn (int $one) => @stream_socket_server('tcp://127.0.0.1:'.$one), range($port, $port + self::ROW - 1),
            ));
            array_map(fclose(...), $open);
            if (self::ROW === \count($open) && (false === $run || @mkdir($run.'/ports/'.$port))) {
                return $port;
            }
        }
        throw new \RuntimeException('This machine has no '.self::ROW.' free ports in a row.');
    }

    /**
     * Sockets of both kinds on one port of all addresses.
     *
     * @return array{resource, resource} for TCP and for UDP
     */
    public static function both(): array
    {
        for ($n = 0; $n < self::TRIES; ++$n) {
            $udp = stream_socket_server('udp://0.0.0.0:0', $code, $error, \STREAM_SERVER_BIND);
            $tcp = false === $udp ? false : @stream_socket_server('tcp://0.0.0.0:'.self::number($udp));
            if (false !== $udp && false !== $tcp) {
                return [$tcp, $udp];
            }
        }
        throw new \RuntimeException('This machine has no port that is free over TCP and UDP.');
    }

    /** @param resource $socket */
    public static function number($socket): int
    {
        return (int) substr((string) strrchr((string) stream_socket_get_name($socket, false), ':'), 1);
    }
}
