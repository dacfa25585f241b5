<?php

declare(strict_types=1);

/*
 * Writes a WARC file of exchanges for the browser's tests. Standard input: JSON, a list of {url, type, body (base64), status,
 * method, sent (base64), fields, destination, requested}; argument: the file.
 */

use Ypomna\Core\Warc\Block;
use Ypomna\Core\Warc\RecordType;
use Ypomna\Core\Warc\WarcWriter;

require dirname(__DIR__, 2).'/vendor/autoload.php';

/**
 * @var list<array{
 *     url: string, type: string, body: string, status?: int, method?: string, sent?: string, fields?: list<string>, destination?: string,
 *     at?: string, requested?: string,
 * }> $exchanges
 */
$exchanges = json_decode((string) stream_get_contents(\STDIN), true, 16, \JSON_THROW_ON_ERROR);
$out = fopen($argv[1] ?? 'php://stdout', 'w');
assert(false !== $out);
$writer = new WarcWriter($out);
foreach ($exchanges as $n => $exchange) {
    $at = new DateTimeImmutable($exchange['at'] ?? '2024-11-03T10:00:00Z');
    $ids = [sprintf('urn:uuid:00000000-0000-4000-8000-%012x', 2 * $n), sprintf('urn:uuid:00000000-0000-4000-8000-%012x', 2 * $n + 1)];
    $url = parse_url($exchange['url']);
    assert(is_array($url));
    $sent = (string) base64_decode($exchange['sent'] ?? '', true);
    $request = ($exchange['method'] ?? 'GET').' '.($url['path'] ?? '/').(isset($url['query']) ? '?'.$url['query'] : '')
        ." HTTP/1.1\r\nHost: ".($url['host'] ?? '')."\r\n"
        .(isset($exchange['destination']) ? 'Sec-Fetch-Dest: '.$exchange['destination']."\r\n" : '')
        .('' === $sent ? '' : 'Content-Length: '.strlen($sent)."\r\n")."\r\n".$sent;
    $body = (string) base64_decode($exchange['body'], true);
    $response = 'HTTP/1.1 '.($exchange['status'] ?? 200)." Said\r\nContent-Type: ".$exchange['type']."\r\nContent-Length: ".strlen($body)
        ."\r\n".implode('', array_map(static fn (string $field): string => $field."\r\n", $exchange['fields'] ?? []))."\r\n".$body;
    $writer->write(
        RecordType::Request,
        $ids[0],
        $at,
        [
            'WARC-Target-URI' => $exchange['url'], 'WARC-Concurrent-To' => '<'.$ids[1].'>',
            'Content-Type' => 'application/http; msgtype=request',
        ],
        Block::ofString($request),
    );
    $writer->write(
        RecordType::Response,
        $ids[1],
        $at,
        [
            'WARC-Target-URI' => $exchange['url'], 'Content-Type' => 'application/http; msgtype=response',
            'WARC-Payload-Digest' => 'sha256:'.hash('sha256', $body),
        ],
        Block::ofString($response),
    );
    if (isset($exchange['requested'])) {
        $said = ['page' => $ids[1], 'title' => 'x', 'requested' => $exchange['requested']];
        $writer->write(RecordType::Metadata, sprintf('urn:uuid:00000000-0000-4000-8001-%012x', $n), $at, [
            'WARC-Target-URI' => $exchange['url'], 'WARC-Concurrent-To' => '<'.$ids[1].'>', 'Content-Type' => 'application/json',
        ], Block::ofString(json_encode($said, \JSON_THROW_ON_ERROR)));
    }
}
