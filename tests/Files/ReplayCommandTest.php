<?php

declare(strict_types=1);

namespace Ypomna\Tests\Files;

use PHPUnit\Framework\TestCase;
use Ypomna\Core\Mhtml\MhtmlWriter;
use Ypomna\Core\Mhtml\Part;
use Ypomna\Tests\Support\Folder;
use Ypomna\Tests\Support\WarcBuilder;

/** Files served for reading, as any client of HTTP sees it. */
final class ReplayCommandTest extends TestCase
{
    private Folder $folder;
    /** @var resource|null */
    private $process;
    /** @var array<int, resource> */
    private array $pipes = [];
    private int $port = 0;

    protected function setUp(): void
    {
        $this->folder = new Folder();
    }

    protected function tearDown(): void
    {
        if (\is_resource($this->process)) {
            proc_terminate($this->process, \SIGKILL);
            proc_close($this->process);
        }
    }

    public function testPagesAreThoseThatWereOpenedAsOne(): void
    {
        $lines = $this->serve($this->folder->file('a.warc.gz', (new WarcBuilder())
            ->exchange(
                'http://lantern.test/old', '2024-11-03T09:59:59Z', 'moved', status: 301, fields: ['Location: http://lantern.test/a'],
                destination: 'document',
            )
            ->exchange(
                'http://lantern.test/a', '2024-11-03T10:00:00.25Z', '<p>a', destination: 'document',
            )->exchange('http://lantern.test/frame', '2024-11-03T10:00:01Z', '<p>f', destination: 'iframe')
            ->exchange('http://lantern.test/gone', '2024-11-03T10:00:02Z', '<p>g', status: 404, destination: 'document')->exchange(
                'http://lantern.test/x.xhtml', '2024-11-03T10:00:03Z', '<p>x</p>', 'application/xhtml+xml', destination: 'document',
            )
            ->exchange(
                'http://lantern.test/doc.pdf', '2024-11-03T10:00:04Z', '%PDF', 'application/pdf', destination: 'document',
            )->bytes()));
        self::assertSame(
            [['http://lantern.test/a', '2024-11-03T10:00:00.250000Z'], ['http://lantern.test/x.xhtml', '2024-11-03T10:00:03Z']],
            array_map(static fn (array $line): array => [$line['url'] ?? '', $line['capturedAt'] ?? ''], $lines),
        );
        $open = parse_url(self::text($lines[0] ?? [], 'open'));
        $frame = parse_url(self::text($lines[0] ?? [], 'frame'));
        self::assertIsArray($open);
        self::assertIsArray($frame);
        self::assertSame([$this->port, $this->port, '/a'], [$open['port'] ?? 0, $frame['port'] ?? 0, $frame['path'] ?? '']);
        self::assertNotSame($open['host'] ?? '', $frame['host'] ?? '');
        [$status, , $window] = $this->ask('GET', (string) ($open['host'] ?? ''), $open['path'] ?? '');
        self::assertSame(200, $status);
        self::assertStringContainsString('src="'.self::text($lines[0] ?? [], 'frame'), $window);
        [$status, $headers, $page] = $this->ask('GET', (string) ($frame['host'] ?? ''), '/a', ['Sec-Fetch-Dest: iframe']);
        self::assertSame(200, $status);
        self::assertStringContainsString('<p>a', $page);
        self::assertStringContainsString('sandbox allow-scripts', $headers['content-security-policy'] ?? '');
        [, $headers] = $this->ask('GET', (string) ($open['host'] ?? ''), ($open['path'] ?? '').'?mode=still');
        self::assertStringContainsString('frame-src http://*.localhost:'.$this->port, $headers['content-security-policy'] ?? '');
        self::assertSame(0, $this->end());
    }

    public function testWithoutThatFieldTheFirstAnswerInHtmlIsThePage(): void
    {
        $record = static fn (string $type, string $path, string $block, string $fields): string =>
            "WARC/1.0\r\nWARC-Type: {$type}\r\n{$fields}WARC-Date: 2020-01-02T03:04:05Z\r\nWARC-Target-URI: <http://old.test/{$path}>"
                ."\r\nContent-Type: application/http; msgtype={$type}\r\nContent-Length: "
            .\strlen($block)."\r\n\r\n{$block}\r\n\r\n";
        $answer = static fn (string $mime, string $body): string => "HTTP/1.0 200\nContent-Type: {$mime}\n\n".$body;
        // Requests behind their answers, and a form among them.
        $bytes = $record('response', 'robots.txt', $answer('text/plain', 'x'), "WARC-Record-ID: <urn:uuid:1>\r\n")
            .$record('response', 'index', $answer('text/html', '<p>first'), "WARC-Record-ID: <urn:uuid:2>\r\n")
            .$record(
                'request', 'index', "GET /index HTTP/1.0\r\n\r\n", "WARC-Record-ID: <urn:uuid:3>\r\nWARC-Concurrent-To: <urn:uuid:2>\r\n",
            )
            .$record('response', 'second', $answer('text/html', '<p>second'), "WARC-Record-ID: <urn:uuid:4>\r\n");
        foreach (['one', 'two'] as $n => $sent) {
            $bytes .= $record('response', 'form', $answer('text/html', '<p>answer to '.$sent), "WARC-Record-ID: <urn:uuid:a{$n}>\r\n")
                .$record(
                    'request',
                    'form',
                    "POST /form HTTP/1.1\r\nContent-Length: 3\r\n\r\n".$sent,
                    "WARC-Record-ID: <urn:uuid:b{$n}>\r\nWARC-Concurrent-To: <urn:uuid:a{$n}>\r\n",
                );
        }
        $lines = $this->serve($this->folder->file('old.warc', $bytes));
        self::assertSame(['http://old.test/index'], array_column($lines, 'url'));
        $host = (string) parse_url(self::text($lines[0] ?? [], 'frame'), \PHP_URL_HOST);
        foreach (['one' => 'one', 'two' => 'two'] as $sent => $answered) {
            self::assertStringContainsString(
                'answer to '.$answered, $this->ask('POST', $host, '/form', ['Sec-Fetch-Dest: empty', 'Content-Length: 3'], $sent)[2],
            );
        }
        self::assertStringContainsString(
            'answer to', $this->ask('POST', $host, '/form', ['Sec-Fetch-Dest: empty', 'Content-Length: 5'], 'three')[2],
        );
        self::assertStringContainsString('<p>second', $this->ask('GET', $host, '/second', ['Sec-Fetch-Dest: iframe'])[2]);
        [$status, , $body] = $this->ask('GET', $host, '/never?x=%22%3E', ['Sec-Fetch-Dest: iframe']);
        self::assertSame(404, $status);
        self::assertStringContainsString('was not kept', $body);
        self::assertStringContainsString('http://old.test/never?x=%22%3E', $body);
    }

    public function testRevisitsPiecesAndRangesAreWhole(): void
    {
        $body = str_repeat('0123456789', 50);
        $builder = (new WarcBuilder())->exchange(
            'http://lantern.test/a', '2024-11-03T10:00:00Z', '<p>a', destination: 'document',
        )->exchange('http://lantern.test/film', '2024-11-03T10:00:01Z', $body, 'video/mp4', destination: 'video')
            ->revisit(
                'http://lantern.test/again',
                '2024-11-03T10:00:02Z',
                ['WARC-Payload-Digest' => 'sha256:'.hash('sha256', $body)],
                "HTTP/1.1 200 OK\r\nContent-Type: video/mp4\r\n\r\n",
            );
        $host = (string) parse_url(
            self::text($this->serve($this->folder->file('a.warc.gz', $builder->bytes()))[0] ?? [], 'frame'), \PHP_URL_HOST,
        );
        [$status, $headers, $part] = $this->ask('GET', $host, '/film', ['Sec-Fetch-Dest: video', 'Range: bytes=5-14']);
        self::assertSame([206, 'bytes 5-14/500', '5678901234'], [$status, $headers['content-range'] ?? '', $part]);
        self::assertSame(416, $this->ask('GET', $host, '/film', ['Sec-Fetch-Dest: video', 'Range: bytes=900-'])[0]);
        self::assertSame($body, $this->ask('GET', $host, '/again', ['Sec-Fetch-Dest: video'])[2]);
        self::assertSame(
            [200, ''],
            [
                $this->ask('HEAD', $host, '/film', ['Sec-Fetch-Dest: video'])[0],
                $this->ask('HEAD', $host, '/film', ['Sec-Fetch-Dest: video'])[2],
            ],
        );
        self::assertSame(204, $this->ask('OPTIONS', $host, '/film', ['Origin: null'])[0]);
        self::assertSame(403, $this->ask('GET', $host, '/film', ['Service-Worker: script'])[0]);
    }

    public function testOneBadAddressCostsNoOtherAndAPageNeedsNoType(): void
    {
        $bytes = '';
        foreach ([
            'http://[broken/', 'not an address', 'http://', 'urn:x', "http://lantern.test/\xff", 'http://lantern.test/nothing',
            'http://lantern.test/untyped',
        ] as $n => $url) {
            $ask = "GET / HTTP/1.1\r\nHost: lantern.test\r\nSec-Fetch-Dest: document\r\n\r\n";
            // The last two say nothing of what they are, and one of them is nothing.
            $answer = match ($url) {
                'http://lantern.test/untyped' => "HTTP/1.1 200 OK\r\n\r\n <!doctype html><p>untyped",
                'http://lantern.test/nothing' => "HTTP/1.1 404 Not Found\r\nTransfer-Encoding: chunked\r\n\r\n0\r\n\r\n",
                default => "HTTP/1.1 200 OK\r\nContent-Type: text/html\r\n\r\n<p>x",
            };
            foreach (['request' => $ask, 'response' => $answer] as $type => $block) {
                $bytes .= "WARC/1.0\r\nWARC-Type: {$type}\r\nWARC-Record-ID: <urn:uuid:{$type}-{$n}>\r\nWARC-Concurrent-To: <urn:uuid:"
                    .('request' === $type ? 'response' : 'request')."-{$n}>\r\n"

                        ."WARC-Date: 2024-11-03T10:00:0{$n}Z\r\nWARC-Target-URI: {$url}\r\nContent-Type: application/http;"
                            ." msgtype={$type}\r\nContent-Length: "
                        .\strlen($block)."\r\n\r\n{$block}\r\n\r\n";
            }
        }
        $lines = $this->serve($this->folder->file('bad.warc', $bytes));
        self::assertContains('http://lantern.test/untyped', array_column($lines, 'url'));
        self::assertNotContains('http://[broken/', array_column($lines, 'url'));
        $frame = self::text($lines[array_search('http://lantern.test/untyped', array_column($lines, 'url'), true)] ?? [], 'frame');
        $host = (string) parse_url($frame, \PHP_URL_HOST);
        [$status, , $nothing] = $this->ask('GET', $host, '/nothing', ['Sec-Fetch-Dest: image']);
        self::assertSame([404, ''], [$status, $nothing]);
        [$status, $headers, $page] = $this->ask('GET', $host, '/untyped', ['Sec-Fetch-Dest: iframe']);
        self::assertSame([200, 'text/html; charset=utf-8'], [$status, $headers['content-type'] ?? '']);
        self::assertStringContainsString('<p>untyped', $page);
        self::assertSame(0, $this->end());
    }

    public function testAPageThatWasAskedForWithAFragmentIsOpenedThere(): void
    {
        $warc = (new WarcBuilder())->exchange('http://lantern.test/long', '2024-11-03T10:00:00Z', '<p id=end>x', destination: 'document');
        $page = $warc->id(2);
        $warc->said(
            'http://lantern.test/long',
            '2024-11-03T10:00:01Z',
            json_encode(['page' => $page, 'title' => 'Long', 'requested' => 'http://lantern.test/long#the%20end'], \JSON_THROW_ON_ERROR),
        );
        $lines = $this->serve($this->folder->file('f.warc.gz', $warc->bytes()));
        self::assertStringEndsWith('/long#the%20end', self::text($lines[0] ?? [], 'frame'));
        self::assertSame(0, $this->end());
    }

    public function testAnMhtmlFileWithSeveralPicturesIsServed(): void
    {
        $parts = [new Part(
            'http://a.test/', 'text/html; charset=utf-8', static fn (): array => ['<p>x<img src=1.png><img src=2.png><img src=3.png>'],
        )];
        foreach ([1 => 5_000, 2 => 700, 3 => 90_000] as $n => $bytes) {
            $parts[] = new Part("http://a.test/{$n}.png", 'image/png', static fn (): array => [str_repeat((string) $n, $bytes)]);
        }
        $file = implode(
            '', iterator_to_array(MhtmlWriter::write('Title', new \DateTimeImmutable('2024-11-03'), 'http://a.test/', 's', $parts), false),
        );
        $lines = $this->serve($this->folder->file('a.mht', $file));
        self::assertSame(['http://a.test/'], array_column($lines, 'url'));
        $host = (string) parse_url(self::text($lines[0] ?? [], 'frame'), \PHP_URL_HOST);
        foreach ([1 => 5_000, 2 => 700, 3 => 90_000] as $n => $bytes) {
            self::assertSame(str_repeat((string) $n, $bytes), $this->ask('GET', $host, "/{$n}.png", ['Sec-Fetch-Dest: image'])[2]);
        }
        self::assertSame(0, $this->end());
    }

    public function testStylesAndFramesWithNamesOfTheirOwnAreFoundInAnMhtmlFile(): void
    {
        $part = static fn (string $fields, string $body): string => "--b\r\n{$fields}\r\n\r\n{$body}\r\n";
        $file = "MIME-Version: 1.0\r\nContent-Type: multipart/related; type=\"text/html\"; boundary=\"b\"\r\n\r\n"
            .$part("Content-Type: text/html\r\nContent-ID: <page@x>\r\nContent-Location: http://a.test/", '<link rel=stylesheet'
                .' href="cid:css-1@x"><p>x<iframe src="cid:frame-1@x"></iframe>'
                .'<y-z><template shadowmode="open"><link rel=stylesheet href="cid:css-1@x"></template></y-z>')
            .$part("Content-Type: text/css\r\nContent-Location: cid:css-1@x", 'p { color: red }')
            .$part(
                "Content-Type: text/html\r\nContent-ID: <frame-1@x>\r\nContent-Location: http://a.test/frame", '<p>in the frame',
            )."--b--\r\n";
        $lines = $this->serve($this->folder->file('a.mht', $file));
        $host = (string) parse_url(self::text($lines[0] ?? [], 'frame'), \PHP_URL_HOST);
        $page = $this->ask('GET', $host, '/', ['Sec-Fetch-Dest: iframe'])[2];
        self::assertStringNotContainsString('cid:', $page);
        self::assertStringContainsString('<template shadowrootmode="open">', $page);
        self::assertSame(2, preg_match_all('/rel=stylesheet href="http:\/\/([^"\/:]+):\d+(\/[^"]+)"/', $page, $styles));
        self::assertSame('p { color: red }', $this->ask('GET', $styles[1][0], $styles[2][0], ['Sec-Fetch-Dest: style'])[2]);
        self::assertSame(1, preg_match('/<iframe src="http:\/\/([^"\/:]+):\d+(\/[^"]+)"/', $page, $frame));
        self::assertStringContainsString('in the frame', $this->ask('GET', $frame[1], $frame[2], ['Sec-Fetch-Dest: iframe'])[2]);
        self::assertSame(0, $this->end());
    }

    public function testOtherNamesAndNonsenseAreRefused(): void
    {
        $this->serve($this->folder->file(
            'a.warc.gz',
            (new WarcBuilder())->exchange('http://lantern.test/a', '2024-11-03T10:00:00Z', '<p>a', destination: 'document')->bytes(),
        ));
        self::assertSame(421, $this->ask('GET', 'attacker.example', '/')[0]);
        self::assertSame(404, $this->ask('GET', '222222222222ah-lantern-test.localhost', '/a')[0]);
        self::assertSame(404, $this->ask('GET', 'reader.localhost', '/build/../../composer.json')[0]);
        self::assertSame(405, $this->ask('POST', 'reader.localhost', '/', ['Content-Length: 0'])[0]);
        foreach ([
            "\r\n\r\n",
            "GET\r\n\r\n",
            "HTTP/1.1 200 OK\r\n\r\n",
            "POST / HTTP/1.1\r\nHost: reader.localhost\r\nTransfer-Encoding: chunked\r\n\r\n0\r\n\r\n",
        ] as $nonsense) {
            self::assertStringStartsWith('HTTP/1.1 400', $this->raw($nonsense));
        }
        self::assertSame(200, $this->ask('GET', 'reader.localhost', '/')[0], 'It goes on.');
        self::assertSame(0, $this->end());
    }

    public function testWhatCannotBeServedSaysWhy(): void
    {
        $this->serve($this->folder->file(
            'a.warc.gz',
            (new WarcBuilder())->exchange('http://lantern.test/a', '2024-11-03T10:00:00Z', '<p>a', destination: 'document')->bytes(),
        ));
        foreach ([
            ['notes.txt', 'no WARC and no MHTML file'],
            ['missing.warc', 'there is no such file'],
            ['a.warc.gz --port='.$this->port, 'Nothing can listen on'],
            ['a.warc.gz --port=70000', 'a number from 1 to 65535'],
        ] as [$arguments, $why]) {
            $this->folder->file('notes.txt', "just\nnotes\n");
            exec(
                'cd '.escapeshellarg($this->folder->path).' && timeout 20 php '.escapeshellarg(\dirname(__DIR__, 2).'/bin/ypomna')
                    .' replay '.$arguments.' 2>&1',
                $said,
                $status,
            );
            self::assertSame(2, $status, $arguments);
            self::assertStringContainsString($why, implode("\n", $said));
            $said = [];
        }
    }

    /**
     * @return list<array<string, mixed>> the pages that were printed
     */
    private function serve(string $file): array
    {
        $process = proc_open(
            ['php', \dirname(__DIR__, 2).'/bin/ypomna', 'replay', $file],
            [['file', '/dev/null', 'r'], ['pipe', 'w'], ['pipe', 'w']],
            $this->pipes,
        );
        self::assertIsResource($process);
        $this->process = $process;
        $lines = [];
        while (false !== ($line = fgets($this->pipes[1]))) {
            $said = json_decode($line, true);
            self::assertIsArray($said, $line);
            if (true === ($said['ready'] ?? null)) {
                break;
            }
            /** @var array<string, mixed> $said */
            $lines[] = $said;
            $this->port = (int) parse_url(\is_string($said['open'] ?? null) ? $said['open'] : '', \PHP_URL_PORT);
        }

        return $lines;
    }

    /**
     * @param array<string, mixed> $line
     */
    private static function text(array $line, string $name): string
    {
        return \is_string($line[$name] ?? null) ? $line[$name] : '';
    }

    /** @return int exit status after SIGTERM */
    private function end(): int
    {
        self::assertIsResource($this->process);
        proc_terminate($this->process, \SIGTERM);
        for ($waited = 0; $waited < 100 && ($state = proc_get_status($this->process))['running']; ++$waited) {
            usleep(50_000);
        }

        return $state['exitcode'] ?? -1;
    }

    /**
     * @param list<string> $headers
     *
     * @return array{int, array<string, string>, string} status, headers, body
     */
    private function ask(string $method, string $host, string $target, array $headers = [], string $body = ''): array
    {
        $answer = $this->raw(
            "{$method} {$target} HTTP/1.1\r\nHost: {$host}:{$this->port}\r\nConnection: close\r\n"
                .implode('', array_map(static fn (string $line): string => $line."\r\n", $headers))."\r\n".$body,
        );
        [$head, $rest] = explode("\r\n\r\n", $answer, 2) + ['', ''];
        $fields = [];
        foreach (\array_slice(explode("\r\n", $head), 1) as $line) {
            [$name, $value] = explode(':', $line, 2) + ['', ''];
            $fields[strtolower($name)] = trim($value);
        }
        if ('chunked' === ($fields['transfer-encoding'] ?? '')) {
            $plain = '';
            while (1 === preg_match('/^([0-9a-f]+)\r\n/', $rest, $m) && ($length = (int) hexdec($m[1])) > 0) {
                $plain .= substr($rest, \strlen($m[0]), $length);
                $rest = substr($rest, \strlen($m[0]) + $length + 2);
            }
            $rest = $plain;
        }

        return [(int) substr($head, 9, 3), $fields, $rest];
    }

    private function raw(string $bytes): string
    {
        $socket = stream_socket_client('tcp://127.0.0.1:'.$this->port, $code, $error, 5);
        self::assertIsResource($socket);
        stream_set_timeout($socket, 10);
        fwrite($socket, $bytes);
        $answer = (string) stream_get_contents($socket);
        fclose($socket);

        return $answer;
    }
}
