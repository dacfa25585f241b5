<?php

declare(strict_types=1);

/*
 * A name server of a test's own. Usage: php names.php ADDRESS:PORT FILE
 * Each line of FILE is a name and an address; `*.` and a domain stands for every name one label below it.
 */

use Ypomna\Core\Fetch\DnsMessage;

require dirname(__DIR__, 2).'/vendor/autoload.php';

$socket = stream_socket_server('udp://'.$argv[1], $code, $error, \STREAM_SERVER_BIND);
if (false === $socket) {
    exit(1);
}
while (false !== ($bytes = stream_socket_recvfrom($socket, 4096, 0, $peer))) {
    $query = DnsMessage::parse($bytes);
    if (null === $query) {
        continue;
    }
    $addresses = [];
    foreach ((array) file($argv[2], \FILE_IGNORE_NEW_LINES) as $line) {
        [$name, $address] = explode(' ', (string) $line, 2) + [1 => ''];
        $wild = (string) preg_replace('/^[^.]+/', '*', $query->name);
        if (in_array($name, [strtolower($query->name), strtolower($wild)], true)) {
            $addresses[] = $address;
        }
    }
    $code = [] === $addresses ? DnsMessage::NO_SUCH_NAME : DnsMessage::NO_ERROR;
    stream_socket_sendto(
        $socket, DnsMessage::answer($query, $code, DnsMessage::TYPES['A'] === $query->type ? $addresses : [], 60), 0,
        is_string($peer) ? $peer : '',
    );
}
