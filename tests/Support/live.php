<?php

declare(strict_types=1);

// A server that behaves and misbehaves by the path it is asked for. Usage: live.php PORT

$server = stream_socket_server('tcp://127.0.0.1:'.($argv[1] ?? '0'), $code, $message);
if (false === $server) {
    fwrite(\STDERR, $message."\n");
    exit(1);
}
pcntl_async_signals(true);
pcntl_signal(\SIGCHLD, \SIG_IGN);
$article = '<!doctype html><title>Held in port | Lantern</title><article><h1>Held in port</h1><p>'
    .str_repeat('The ferry was held in port when inspectors measured the water behind her stern door, and the board said so. ', 8).'</p><p>'
    .str_repeat('Nobody had been told before that the seal was leaking, although the log has it. ', 8).'</p></article>';
$page = static fn (string $body, string $status = '200 OK', string $more = ''): string =>
    "HTTP/1.1 {$status}\r\nContent-Type: text/html; charset=utf-8\r\n{$more}Content-Length: "
    .strlen($body)."\r\nConnection: close\r\n\r\n".$body;
$to = static fn (string $where, string $status = '302 Found', string $more = ''): string =>
    "HTTP/1.1 {$status}\r\nLocation: {$where}\r\n{$more}Content-Length: 0\r\nConnection: close\r\n\r\n";
echo "ready\n";
while (true) {
    $client = @stream_socket_accept($server, 60);
    if (false === $client) {
        continue;
    }
    if (0 !== pcntl_fork()) {
        fclose($client);
        continue;
    }
    fclose($server);
    $request = '';
    while (!str_contains($request, "\r\n\r\n") && !str_starts_with($request, "\x16") && '' !== ($piece = (string) fread($client, 8_192))) {
        $request .= $piece;
    }
    $path = explode('?', explode(' ', $request)[1] ?? '/')[0];
    $cookie = 1 === preg_match('/^Cookie: .*seen=1/mi', $request);
    $name = explode('/', trim($path, '/'))[0];
    if ('hang' === $name) {
        sleep(60);
    } elseif ('reset' === $name) {
        $socket = socket_import_stream($client);
        assert(false !== $socket);
        socket_set_option($socket, \SOL_SOCKET, \SO_LINGER, ['l_onoff' => 1, 'l_linger' => 0]);
        fclose($client);
        exit;
    }
    fwrite($client, match ($name) {
        'ok', 'text' => $page($article),
        'gzip' => "HTTP/1.1 200 OK\r\nContent-Type: text/html\r\nContent-Encoding: gzip\r\nTransfer-Encoding: chunked\r\n\r\n"
            .dechex(strlen((string) gzencode($article)))."\r\n".gzencode($article)."\r\n0\r\n\r\n",
        'latin' => '/latin/a' !== $path
            ? $page('', '404 Not Found')
            : "HTTP/1.0 200 OK\r\nContent-Type: text/html; charset=iso-8859-1\r\n\r\n"
                .mb_convert_encoding('<title>Café</title><p>The café on the quay is open daily from six until ten.', 'ISO-8859-1', 'UTF-8'),
        'gone' => $page('', '410 Gone'),
        'missing' => $page('<h1>Nope</h1>', '404 Not Found'),
        'down' => $page('', '503 Service Unavailable'),
        'legal' => $page('', '451 Unavailable'),
        'loop' => $to('/loop'),
        'far' => $to('/far/'.(1 + (int) (explode('/', $path)[2] ?? 0))),
        'nowhere' => "HTTP/1.1 302 Found\r\nContent-Length: 0\r\nConnection: close\r\n\r\n",
        'foreign' => $to('ftp://files.test/x'),
        'app' => $to('intent://x'),
        'slash' => '/slash/' === $path ? $page($article) : $to('/slash/', '301 Moved Permanently'),
        'moved' => $to('/text/new', '308 Permanent Redirect'),
        'front' => $to('/'),
        'refresh' => $page('<meta http-equiv="refresh" content="0; url=/text/new"><p>One moment.'),
        'cookie' => $cookie ? $page($article) : $to($path, '302 Found', "Set-Cookie: seen=1; Path=/\r\n"),
        'empty' => $page(''),
        'short' => "HTTP/1.1 200 OK\r\nContent-Type: text/html\r\nContent-Length: 90000\r\nConnection: close\r\n\r\n<p>It ends",
        'garbage' => "\x00\x01\x02 nonsense\r\n\r\n",
        'login' => $to('/sign-in?next='.rawurlencode($path)),
        'sign-in' => $page('<title>Sign in</title><form><input name=u><input type=password name=p><button>Sign in</button></form>'),
        'inside' => $to('http://10.0.0.1/'),
        '' => $page(
            '<title>Lantern</title><h1>Lantern</h1><ul><li><a href=/1>One story</a><li><a href=/2>Another story</a><li><a href=/3>A'
                .' third</a></ul>',
        ),
        default => $page(
            '<title>Lantern</title><h1>Lantern</h1><p>Nothing is here by that name.</p>', 'soft' === $name ? '200 OK' : '404 Not Found',
        ),
    });
    fclose($client);
    exit;
}
