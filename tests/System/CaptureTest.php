<?php

declare(strict_types=1);

namespace Ypomna\Tests\System;

use PHPUnit\Framework\TestCase;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Http\Body;
use Ypomna\Core\Warc\DigestVerdict;
use Ypomna\Core\Warc\Inspector;
use Ypomna\Core\Warc\WarcReader;
use Ypomna\Tests\Support\Stack;
use Ypomna\Tests\Support\TrapSite;

/** Captures of the real browser through the real gateway, judged by the files they leave. */
final class CaptureTest extends TestCase
{
    private static Stack $stack;

    public static function setUpBeforeClass(): void
    {
        $data = getenv('YPOMNA_TEST_TMP').'/system';
        self::$stack = new Stack($data);
        mkdir($data, 0o755, true);
        touch($data.'/.demo-loaded');
        [$status, $said] = self::$stack->start();
        self::assertSame(0, $status, $said);
        self::$stack->ypomna('standin:clock', '2024-11-12T09:00Z');
    }

    public static function tearDownAfterClass(): void
    {
        self::$stack->stop();
    }

    public function testTheFileHoldsEveryByteAndSaysHowItCameAbout(): void
    {
        $job = self::$stack->keep('http://traps.test/exact');
        self::assertSame('done', $job['stage'], (string) json_encode($job));
        $path = self::$stack->file(self::text($job, 'capture_code'));
        exec('gzip -t '.escapeshellarg($path), $out, $status);
        self::assertSame(0, $status);
        self::assertSame('0400', substr(\sprintf('%o', fileperms($path)), -4));
        $row = self::$stack->row(
            'SELECT LOWER(HEX(f.sha256)) AS digest FROM capture c JOIN warc_file f ON f.id = c.warc_file_id WHERE c.code = ?',
            [$job['capture_code']],
        );
        self::assertSame(hash_file('sha256', $path), $row['digest']);
        self::assertStringContainsString(
            (string) hash_file('sha256', $path), (string) file_get_contents(self::$stack->data.'/ledger/ledger.txt'),
        );

        $records = self::records($path);
        self::assertSame('warcinfo', $records[0]['type']);
        $response = self::only($records, 'response', 'http://traps.test/exact');
        self::assertSame(TrapSite::EXACT, $response['block']);
        $request = self::only($records, 'request', 'http://traps.test/exact');
        self::assertStringStartsWith("GET /exact HTTP/1.1\r\nHost: traps.test\r\n", $request['block']);
        self::assertSame($response['id'], $request['concurrent']);
        self::assertSame('127.77.0.1', $response['ip']);
        foreach ($records as $record) {
            self::assertSame('1.1', $record['version']);
            self::assertSame(DigestVerdict::Ok, $record['digest'], $record['type']);
            self::assertMatchesRegularExpression('/^2024-11-12T09:\d\d:\d\d\.\d{6}Z$/', $record['date']);
        }
        $derived = array_filter($records, static fn (array $r): bool => $r['refers'] === $response['id']);
        self::assertSame(
            ['image/png', 'text/html; charset=utf-8', 'text/plain; charset=utf-8'], self::sorted(array_column($derived, 'content')),
        );
        self::assertStringContainsString(
            'These bytes and no others.',
            implode(
                '',
                array_column(array_filter($derived, static fn (array $r): bool => str_starts_with($r['content'], 'text/plain')), 'block'),
            ),
        );
        $about = self::about($records);
        self::assertSame(['traps.test', ['127.77.0.1']], [$about['dns'][0]['host'], $about['dns'][0]['addresses']]);
        self::assertSame('standin:'.self::$stack->data.'/standin/clock.json', $about['clock']['source']);
        self::assertStringContainsString('Chrom', $about['browser']);
    }

    public function testACertificateChainIsKept(): void
    {
        $job = self::$stack->keep('https://corvane-marine.test/products/stern-seal-400');
        $about = self::about(self::records(self::$stack->file(self::text($job, 'capture_code'))));
        $chain = $about['certificates']['corvane-marine.test'];
        self::assertGreaterThan(0, \count($chain));
        self::assertNotFalse(openssl_x509_read($chain[0]));
    }

    public function testBrokenPartsAreKeptAsFarAsTheyCameAndMarked(): void
    {
        $job = self::$stack->keep('http://traps.test/cut');
        $records = self::records(self::$stack->file(self::text($job, 'capture_code')));
        foreach (['http://traps.test/cut.png', 'http://traps.test/reset.png'] as $url) {
            $response = self::only($records, 'response', $url);
            self::assertSame('disconnect', $response['truncated'], $url);
            self::assertLessThanOrEqual(2_000, \strlen($response['body']));
        }
        self::assertSame(2_000, \strlen(self::only($records, 'response', 'http://traps.test/cut.png')['body']));
    }

    public function testScriptsWorkersShadowsAndDialogs(): void
    {
        $job = self::$stack->keep('http://traps.test/busy');
        $records = self::records(self::$stack->file(self::text($job, 'capture_code')));
        self::assertStringEndsWith("\r\n\r\na=1", self::only($records, 'request', 'http://traps.test/post')['block']);
        self::assertSame(' From a worker.', self::only($records, 'response', 'http://traps.test/from-worker')['body']);
        $dom = implode(
            '',
            array_column(
                array_filter(
                    $records, static fn (array $r): bool => 'conversion' === $r['type'] && str_starts_with($r['content'], 'text/html'),
                ),
                'block',
            ),
        );
        self::assertStringContainsString('Posted a=1.', $dom);
        self::assertStringContainsString('From a worker.', $dom);
        self::assertMatchesRegularExpression('/<template shadowrootmode="open"[^>]*>In the shadow\./', $dom);
    }

    public function testNothingInsideIsReached(): void
    {
        foreach ([
            'http://traps.test/inward?port='.self::$stack->port,
            'http://traps.test/rebound',
            'http://127.0.0.1:'.self::$stack->port.'/health',
            'http://[::1]/',
            'http://2130706433/',
        ] as $url) {
            $job = self::$stack->keep($url);
            self::assertSame(['failed', 'guarded'], [$job['stage'], $job['reason']], $url);
        }
        $job = self::$stack->keep('http://traps.test/parts-inward');
        self::assertSame('done', $job['stage']);
        $records = self::records(self::$stack->file(self::text($job, 'capture_code')));
        self::assertSame(
            ['http://traps.test/parts-inward'],
            self::sorted(array_unique(array_column(
                array_filter(
                    $records,
                    static fn (array $r): bool => 'response' === $r['type']
                        && 1 !== preg_match('#/(?:favicon\.ico|robots\.txt)$#', $r['uri']),
                ),
                'uri',
            ))),
        );
        $about = self::about($records);
        $refused = array_column(array_filter($about['unanswered'], static fn (array $u): bool => 'guarded' === $u['reason']), 'url');
        foreach ([
            'http://127.0.0.1/a.png',
            'http://[::ffff:a9fe:a9fe]/b.png',
            'http://rebound.example/c.png',
            'http://127.0.0.1/d.png',
            'http://10.0.0.1/e',
        ] as $url) {
            self::assertContains($url, $refused);
        }
    }

    public function testWhatIsMissingComesLaterAsAFileOfItsOwn(): void
    {
        $code = self::text(self::$stack->keep('http://traps.test/patchy'), 'capture_code');
        $row = self::$stack->row('SELECT verdict, completeness FROM capture WHERE code = ?', [$code]);
        self::assertSame('gaps', $row['verdict']);
        self::assertStringContainsString(
            '"url":"http://traps.test/patchy.png","kind":"image","reason":"truncated"',
            str_replace('": "', '":"', self::text($row, 'completeness')),
        );
        $first = (string) hash_file('sha256', self::$stack->file($code));

        $job = self::$stack->await(self::$stack->ask($code, '--missing'));
        self::assertSame(['failed', 'still-missing'], [$job['stage'], $job['reason']]);

        self::$stack->ypomna('standin:clock', '2024-11-21T09:00Z');
        $job = self::$stack->await(self::$stack->ask($code, '--missing'));
        self::$stack->ypomna('standin:clock', '2024-11-12T09:00Z');
        self::assertSame(['done', $code], [$job['stage'], $job['capture_code']], (string) json_encode($job));
        self::assertSame($first, hash_file('sha256', self::$stack->file($code)));
        $part = self::$stack->row(
            'SELECT r.captured_at, f.path, f.origin FROM record r JOIN warc_file f ON f.id = r.warc_file_id WHERE r.url = ? AND r.status'
                .' = 200 ORDER BY r.captured_at DESC LIMIT 1',
            ['http://traps.test/patchy.png'],
        );
        self::assertSame(['2024-11-21', 'own'], [substr(self::text($part, 'captured_at'), 0, 10), $part['origin']]);
        $records = self::records(self::$stack->data.'/store/'.self::text($part, 'path'));
        self::assertStringContainsString('"capture": "'.$code.'"', self::only($records, 'metadata')['block']);
        self::assertStringContainsString('capture.completed', (string) file_get_contents(self::$stack->data.'/ledger/ledger.txt'));
        $read = @file_get_contents(
            'http://localhost:'.self::$stack->port.'/patchy.png',
            false,
            stream_context_create([
                'http' => [
                    'header' => 'Host: '.self::$stack->pageHost($code, 'traps.test')
                        ."\r\nSec-Fetch-Dest: image\r\nConnection: close",
                ],
            ]),
        );
        self::assertIsString($read);
        self::assertStringStartsWith("\x89PNG", $read);
    }

    public function testAPageThatLeadsInACircleEndsInThatReason(): void
    {
        $job = self::$stack->keep('http://traps.test/loop');
        self::assertSame(['failed', 'redirect-loop'], [$job['stage'], $job['reason']]);
    }

    public function testAFilmIsKeptWholeAndNotMore(): void
    {
        $job = self::$stack->keep('http://traps.test/film');
        $path = self::$stack->file(self::text($job, 'capture_code'));
        $sizes = [];
        foreach (WarcReader::open($path)->records() as $record) {
            if ('response' === $record->header->type() && 'http://traps.test/film.mp4' === $record->header->uri()) {
                $sizes[] = Inspector::inspect($record)->payloadBytes;
            }
        }
        self::assertContains(TrapSite::FILM, $sizes);
    }

    public function testPartsThatAreHeldAreReferredToAndGivenOutWithThePage(): void
    {
        $url = 'http://www.saltmarch-ferries.test/fleet/petrel-dawn';
        $paths = array_map(static fn (int $n): array => self::$stack->keep($url), [1, 2]);
        $first = self::records(self::$stack->file(self::text($paths[0], 'capture_code')));
        $second = self::records(self::$stack->file(self::text($paths[1], 'capture_code')));
        self::assertSame('response', self::only($second, 'response', $url)['type']);
        $revisits = array_values(array_filter($second, static fn (array $r): bool => 'revisit' === $r['type']));
        self::assertNotSame([], $revisits);
        foreach ($revisits as $revisit) {
            self::assertStringEndsWith("\r\n\r\n", $revisit['block']);
            self::assertStringStartsWith("HTTP/1.1 200 OK\r\n", $revisit['block']);
        }
        $code = self::text($paths[1], 'capture_code');
        $part = Url::parse($revisits[0]['uri']);
        $read = (string) file_get_contents(
            'http://localhost:'.self::$stack->port.$part->target(),
            false,
            stream_context_create([
                'http' => [
                    'header' => 'Host: '.self::$stack->pageHost($code, (string) $part->host)
                        ."\r\nSec-Fetch-Dest: image\r\nConnection: close",
                ],
            ]),
        );
        self::assertSame(self::only($first, 'response', $revisits[0]['uri'])['body'], $read);
        file_put_contents(
            self::$stack->data.'/whole.warc.gz', self::$stack->page('/c/'.$code.'/warc'),
        );
        $whole = self::records(self::$stack->data.'/whole.warc.gz');
        self::assertSame($second, \array_slice($whole, 0, \count($second)));
        self::assertSame('response', self::only($whole, 'response', $revisits[0]['uri'])['type']);
    }

    public function testAKilledWorkerLosesNothingAndLeavesNoHalfFile(): void
    {
        $before = self::$stack->holdings();
        $job = self::$stack->ask('http://traps.test/slow');
        self::$stack->await($job, 'loading');
        $worker = self::$stack->worker();
        self::assertGreaterThan(1, $worker);
        posix_kill($worker, \SIGKILL);
        self::assertSame(
            $before,
            array_filter(
                self::$stack->holdings(), static fn (string $path): bool => !str_contains($path, '/.incoming/'), \ARRAY_FILTER_USE_KEY,
            ),
        );
        $row = self::$stack->await($job);
        self::assertSame(['done', 2], [$row['stage'], $row['attempts']]);
        self::assertSame(1, self::$stack->row('SELECT COUNT(*) AS n FROM capture WHERE url = ?', ['http://traps.test/slow'])['n']);
        self::assertCount(\count($before) + 1, self::$stack->holdings());
        self::assertSame($before, array_intersect_key(self::$stack->holdings(), $before));
        for ($n = 0; $n < 50 && [] !== glob(self::$stack->data.'/work/*'); ++$n) {
            // The job is done before its folder is cleared.
            usleep(100_000);
        }
        self::assertSame([], glob(self::$stack->data.'/work/*'));
        [$status, $said] = self::$stack->ypomna('verify');
        self::assertSame(0, $status, $said);
    }

    public function testADiskThatTakesNoMoreEndsInThatReason(): void
    {
        $before = self::$stack->holdings();
        // What earlier tests left to be indexed and read is done.
        for ($n = 0; $n < 600 && self::$stack->row('SELECT COUNT(*) AS n FROM queue_message')['n'] > 0; ++$n) {
            usleep(100_000);
        }
        // The queue is worked off by one that may write no file larger than 3 MB: for it the disk is full there.
        posix_kill((int) file_get_contents(self::$stack->data.'/run/worker.pid'), \SIGTERM);
        for ($n = 0; $n < 100 && is_file(self::$stack->data.'/run/worker.pid'); ++$n) {
            usleep(100_000);
        }
        $jobs = array_map(self::$stack->ask(...), ['http://traps.test/film', 'http://traps.test/heavy']);
        $browser = self::$stack->data.'/browser';
        file_put_contents($browser, "#!/bin/bash\nulimit -S -f unlimited\nexec /usr/bin/chromium \"\$@\"\n");
        chmod($browser, 0o755);
        [$status, $said] = Stack::run(
            ['bash', '-c', 'trap "" XFSZ; ulimit -S -f 3000; exec php bin/ypomna messenger:consume work --limit=2 --time-limit=200'],
            ['YPOMNA_DATA' => self::$stack->data, 'CHROMIUM' => $browser],
        );
        self::assertSame(0, $status, $said);
        foreach ($jobs as $job) {
            $row = self::$stack->await($job, null, 1.0);
            self::assertSame(['failed', 'storage'], [$row['stage'], $row['reason']], (string) json_encode($row));
        }
        self::assertSame($before, self::$stack->holdings());
        self::assertSame([], glob(self::$stack->data.'/work/*'));
        // With room again the same page is kept.
        [$status, $said] = self::$stack->start();
        self::assertSame(0, $status, $said);
        self::assertSame('done', self::$stack->keep('http://traps.test/heavy')['stage']);
    }

    /**
     * @return list<array{
     *     type: string, id: string, uri: string, date: string, version: string, content: string, concurrent: string, refers: string,
     *     ip: string, truncated: string, digest: DigestVerdict, block: string, body: string,
     * }>
     */
    private static function records(string $path): array
    {
        $records = [];
        $offsets = [];
        $reader = WarcReader::open($path);
        foreach ($reader->records() as $record) {
            $offsets[] = $record->offset;
            $header = $record->header;
            $facts = Inspector::inspect($record);
            $block = Body::collect(WarcReader::at($path, $record->offset)->block(), 20_000_000);
            $records[] = [
                'type' => $header->type(), 'id' => (string) $header->id(), 'uri' => (string) $header->uri(),
                'date' => (string) $header->date(), 'version' => $header->version, 'content' => (string) $header->contentType(),
                'concurrent' => (string) $header->concurrentTo(), 'refers' => (string) $header->refersTo(),
                'ip' => (string) $header->fields->get('WARC-IP-Address'), 'truncated' => (string) $header->fields->get('WARC-Truncated'),
                'digest' => $facts->digest, 'block' => $block, 'body' => (string) preg_replace('/^.*?\r\n\r\n/s', '', $block, 1),
            ];
        }
        self::assertSame([], $reader->findings());

        return $records;
    }

    /**
     * @param list<array{
     *     type: string, id: string, uri: string, date: string, version: string, content: string, concurrent: string, refers: string,
     *     ip: string, truncated: string, digest: DigestVerdict, block: string, body: string,
     * }> $records
     *
     * @return array{
     *     type: string, id: string, uri: string, date: string, version: string, content: string, concurrent: string, refers: string,
     *     ip: string, truncated: string, digest: DigestVerdict, block: string, body: string,
     * }
     */
    private static function only(array $records, string $type, ?string $uri = null): array
    {
        foreach ($records as $record) {
            if ($record['type'] === $type && (null === $uri || $record['uri'] === $uri)) {
                return $record;
            }
        }
        self::fail("There is no {$type} of {$uri}.");
    }

    /**
     * What the file says of its capture as a whole.
     *
     * @param list<array{
     *     type: string, id: string, uri: string, date: string, version: string, content: string, concurrent: string, refers: string,
     *     ip: string, truncated: string, digest: DigestVerdict, block: string, body: string,
     * }> $records
     *
     * @return array{
     *     dns: list<array{host: string, addresses: list<string>}>, clock: array{source: string}, browser: string,
     *     certificates: array<string, list<string>>, unanswered: list<array{url: string, reason: string|null}>,
     * }
     */
    private static function about(array $records): array
    {
        /**
         * @var array{
         *     dns: list<array{host: string, addresses: list<string>}>, clock: array{source: string}, browser: string,
         *     certificates: array<string, list<string>>, unanswered: list<array{url: string, reason: string|null}>,
         * } $about
         */
        $about = json_decode(self::only($records, 'metadata')['block'], true, 32, \JSON_THROW_ON_ERROR);

        return $about;
    }

    /**
     * @param array<array-key, string> $texts
     *
     * @return list<string>
     */
    private static function sorted(array $texts): array
    {
        sort($texts);

        return $texts;
    }

    /**
     * @param array<string, mixed> $row
     */
    private static function text(array $row, string $column): string
    {
        self::assertIsString($row[$column] ?? null, (string) json_encode($row));

        return $row[$column];
    }
}
