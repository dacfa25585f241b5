<?php

declare(strict_types=1);

namespace Ypomna\Tests\System;

use PHPUnit\Framework\TestCase;
use Ypomna\Tests\Support\Stack;
use Ypomna\Tests\Support\WarcBuilder;

/** The servers in front of the application: who reads slowly or not at all keeps nobody else from it, and nothing of it lies open. */
final class FrontTest extends TestCase
{
    private const PAGE = 'http://lantern.test/a';
    private const SECONDS = 120;

    private static Stack $stack;
    private static string $code;

    public static function setUpBeforeClass(): void
    {
        self::$stack = new Stack(getenv('YPOMNA_TEST_TMP').'/front');
        [$status, $said] = self::$stack->start(['--empty']);
        self::assertSame(0, $status, $said);
        $file = getenv('YPOMNA_TEST_TMP').'/front.warc.gz';
        // What cannot be packed, and is more than sockets and buffers hold.
        file_put_contents($file, (new WarcBuilder('f'))->exchange(self::PAGE, '2024-11-03T10:00:00Z', '<p>'.random_bytes(12_000_000))
            ->exchange(
                'http://lantern.test/br',
                '2024-11-03T10:00:01Z',
                (string) base64_decode('G68E+B2JsY2KfXNII7+GCitjk3d0RA1S5iYnBWnIsGwBIpOC3knBorrymQA=', true),
                'text/html',
                fields: ['Content-Encoding: br'],
            )->bytes());
        [$status, $said] = self::$stack->ypomna('import', $file);
        self::assertSame(0, $status, $said);
        $code = self::$stack->row(
            'SELECT c.code FROM capture c JOIN address a ON a.id = c.address_id WHERE a.url = ?', [self::PAGE],
        )['code']
            ?? null;
        self::assertIsString($code);
        self::$code = $code;
    }

    public static function tearDownAfterClass(): void
    {
        self::$stack->stop();
    }

    public function testWhoeverDoesNotReadKeepsNobodyFromTheApplication(): void
    {
        $open = [];
        foreach (['/raw', '/warc'] as $what) {
            for ($n = 0; $n < 16; ++$n) {
                $open[] = self::ask('/c/'.self::$code.$what, null, self::$stack->cookie()."\r\n");
            }
        }
        // All of them have had the time to take a process each, were they given one.
        usleep(500_000);
        $said = stream_get_contents(self::ask('/health'));
        self::assertStringContainsString('200 OK', (string) $said);
        self::assertStringEndsWith('ok', trim((string) $said));
        $first = array_map(static fn ($socket): string => (string) fgets($socket), $open);
        $refused = array_filter($first, static fn (string $line): bool => str_contains($line, ' 429 '));
        self::assertNotSame([], $refused, 'one reader has some large answers at a time');
        self::assertNotSame([], array_filter($first, static fn (string $line): bool => str_contains($line, ' 200 ')), implode('', $first));
        $one = $open[array_key_first($refused)];
        self::assertMatchesRegularExpression('/^Retry-After: \d+\r$/mi', (string) stream_get_contents($one));
        array_map(fclose(...), $open);
    }

    public function testAPageThatAsksForTooMuchKeepsNobodyFromTheApplication(): void
    {
        $host = self::$stack->pageHost(self::$code, 'lantern.test');
        $open = array_map(static fn (): mixed => self::ask('/a', $host), range(1, 40));
        usleep(500_000);
        self::assertStringEndsWith('ok', trim((string) stream_get_contents(self::ask('/health'))));
        array_map(fclose(...), $open);
    }

    public function testItIsGivenWholeToWhoeverReads(): void
    {
        $said = (string) stream_get_contents(self::ask('/c/'.self::$code.'/raw', null, self::$stack->cookie()."\r\n"));
        [$head, $body] = explode("\r\n\r\n", $said, 2);
        self::assertStringContainsString('200 OK', $head);
        self::assertSame(12_000_003, \strlen($body));
    }

    public function testBrotliIsUnpackedThoughNoOtherCodeMayCallLibraries(): void
    {
        $said = (string) stream_get_contents(self::ask(
            '/br', self::$stack->pageHost(self::$code, 'lantern.test'), "Sec-Fetch-Dest: iframe\r\n",
        ));
        self::assertStringContainsString('Petrel Dawn was held in port.', $said);
    }

    public function testAnotherNameOrPortIsNotAnswered(): void
    {
        $port = self::$stack->port;
        foreach ([
            'evil.test', "evil.test:{$port}", 'localhost:'.($port + 1), 'localhost', "localhost.evil.test:{$port}",
            self::$code.'ah-lantern-test.localhost:'.($port + 1), "user@localhost:{$port}",
        ] as $host) {
            $status = (string) fgets(self::ask('/', $host));
            self::assertMatchesRegularExpression('/^HTTP\/1\.[01] (?:421|400) /', $status, $host);
        }
    }

    public function testWhatTheServerTellsProgramsHasTheFormOfTheirErrors(): void
    {
        $port = self::$stack->port;
        $send = static function (string $head) use ($port): string {
            $socket = stream_socket_client('tcp://127.0.0.1:'.$port);
            self::assertNotFalse($socket);
            stream_set_timeout($socket, self::SECONDS);
            fwrite($socket, $head." HTTP/1.1\r\nHost: localhost:{$port}\r\nContent-Length: 99999999\r\nConnection: close\r\n\r\n");

            return (string) stream_get_contents($socket);
        };
        foreach (['POST /api/me' => 413, 'GET /api/me?a='.str_repeat('x', 40_000) => 414] as $head => $status) {
            [$fields, $body] = explode("\r\n\r\n", $send($head), 2);
            self::assertStringStartsWith("HTTP/1.1 {$status} ", $fields);
            self::assertStringContainsString('Content-Type: application/problem+json', $fields);
            $read = json_decode($body, true, 4, \JSON_THROW_ON_ERROR);
            self::assertIsArray($read);
            self::assertSame(['type', 'title', 'status', 'detail'], array_keys($read));
            self::assertSame($status, $read['status']);
        }
        // Elsewhere people read it.
        self::assertStringNotContainsString('problem+json', $send('POST /import'));
        self::assertStringContainsString('"status":401', (string) stream_get_contents(self::ask('/api/me')));
    }

    public function testNothingIsReadableByOthersOfTheMachine(): void
    {
        $mode = static fn (string $path): string => substr(\sprintf('%o', fileperms($path)), -4);
        self::assertSame('0700', $mode(self::$stack->data));
        $bad = [];
        foreach (new \FilesystemIterator(self::$stack->data) as $first) {
            \assert($first instanceof \SplFileInfo);
            if (($first->isDir() ? '0700' : '0600') !== $mode($first->getPathname())) {
                $bad[] = $first->getFilename();
            }
        }
        // The database and the compiled application lie in folders that are closed; what people hand in and what is logged is closed
        // itself.
        foreach (['store', 'ledger', 'log', 'work', 'sessions'] as $folder) {
            foreach (new \RecursiveIteratorIterator(
                new \RecursiveDirectoryIterator(self::$stack->data.'/'.$folder, \FilesystemIterator::SKIP_DOTS),
                \RecursiveIteratorIterator::SELF_FIRST,
            ) as $file) {
                \assert($file instanceof \SplFileInfo);
                if (0 !== ($file->getPerms() & 0o077)) {
                    $bad[] = $mode($file->getPathname()).' '.$file->getPathname();
                }
            }
        }
        self::assertSame([], $bad);
    }

    public function testASocketFolderThatIsNotOursIsRefused(): void
    {
        $sockets = getenv('YPOMNA_TEST_TMP').'/sockets';
        $theirs = $sockets.'/ypomna-'.posix_geteuid();
        mkdir($theirs, 0o777, true);
        chmod($theirs, 0o777);
        $data = getenv('YPOMNA_TEST_TMP').'/'.str_repeat('long-', 24);
        $stack = new Stack($data, ['YPOMNA_SOCKETS' => $sockets]);
        [$status, $said] = $stack->start(['--empty']);
        $stack->stop();
        self::assertSame(1, $status, $said);
        self::assertStringContainsString('is not ours alone', $said);
        self::assertCount(2, (array) scandir($theirs));
    }

    public function testOfTwoWhoChangeTheSameAtOnceOneIsToldSo(): void
    {
        self::$stack->cookie();
        [$status, $said] = self::$stack->ypomna('token:add', 'The Tester', '--json');
        self::assertSame(0, $status, $said);
        $token = json_decode($said, true);
        $bearer = 'Authorization: Bearer '.(\is_array($token) && \is_string($token['token'] ?? null) ? $token['token'] : '')."\r\n";
        $made = (string) stream_get_contents(self::send('POST', '/api/dossiers', '{"name":"Raced"}', $bearer));
        self::assertSame(1, preg_match('~^Location: (?:http://[^/]+)?(\S+)\r$~mi', $made, $at), $made);
        self::assertSame(1, preg_match('~^ETag: (\S+)\r$~mi', $made, $tag));
        for ($round = 0; $round < 5; ++$round) {
            $match = $bearer.'If-Match: '.$tag[1]."\r\n";
            $open = array_map(
                static fn (int $n): mixed => self::send('PATCH', $at[1], '{"name":"Of '.$n.'"}', $match), range(1, 6),
            );
            $said = array_map(static fn (mixed $one): string => \is_resource($one) ? (string) stream_get_contents($one) : '', $open);
            $statuses = array_map(static fn (string $one): string => substr($one, 9, 3), $said);
            sort($statuses);
            self::assertSame(['200', '412', '412', '412', '412', '412'], $statuses);
            $won = implode('', array_filter($said, static fn (string $one): bool => str_contains($one, ' 200 ')));
            self::assertSame(1, preg_match('~^ETag: (\S+)\r$~mi', $won, $tag), $won);
            self::assertSame(1, preg_match('~"name":"(Of \d)"~', $won, $name));
            $now = (string) stream_get_contents(self::ask($at[1], null, $bearer));
            self::assertStringContainsString('"name":"'.$name[1].'"', $now);
        }
    }

    /** @return resource */
    private static function send(string $method, string $path, string $body, string $fields)
    {
        $socket = stream_socket_client('tcp://127.0.0.1:'.self::$stack->port, $code, $why, self::SECONDS);
        self::assertNotFalse($socket, (string) $why);
        stream_set_timeout($socket, self::SECONDS);
        fwrite($socket, "{$method} {$path} HTTP/1.0\r\nHost: localhost:".self::$stack->port."\r\nConnection: close\r\nContent-Type:"
            ." application/json\r\nContent-Length: ".\strlen($body)."\r\n{$fields}\r\n{$body}");

        return $socket;
    }

    /**
     * @return resource the answer, of which nothing is read yet
     */
    private static function ask(string $path, ?string $host = null, string $fields = '')
    {
        $port = self::$stack->port;
        $socket = stream_socket_client('tcp://127.0.0.1:'.$port, $code, $why, self::SECONDS);
        self::assertNotFalse($socket, (string) $why);
        stream_set_timeout($socket, self::SECONDS);
        fwrite($socket, "GET {$path} HTTP/1.0\r\nHost: ".($host ?? "localhost:{$port}")."\r\nConnection: close\r\n{$fields}\r\n");

        return $socket;
    }
}
