<?php

declare(strict_types=1);

namespace Ypomna\Tests\Files;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\App\Exchange\Console\WarcCheckCommand;
use Ypomna\App\Exchange\Console\WarcListCommand;
use Ypomna\Core\Warc\WarcError;
use Ypomna\Core\Warc\WarcReader;
use Ypomna\Tests\Support\Folder;
use Ypomna\Tests\Support\Told;

/** `warc:list` and `warc:check` on files as they come: of others, old, damaged. */
final class WarcCommandsTest extends TestCase
{
    private Folder $folder;

    protected function setUp(): void
    {
        $this->folder = new Folder();
    }

    public function testARowSaysEverythingOfARecord(): void
    {
        $http = "HTTP/1.1 200 OK\r\nContent-Type: Text/HTML; charset=x\r\n\r\n<p>x";
        $told = $this->list(self::record([
            'WARC-Type' => 'response', 'WARC-Target-URI' => '<http://lantern.test/>', 'WARC-Concurrent-To' => '<urn:uuid:2>',
            'WARC-Refers-To' => '<urn:uuid:3>', 'WARC-Truncated' => 'length',
            'WARC-Payload-Digest' => 'sha1:'.sha1('<p>x'), 'Content-Type' => 'application/http; msgtype=response',
        ], $http));
        self::assertSame(0, $told->status);
        self::assertEquals([[
            'offset' => 0,
            'length' => \strlen(self::record(
                [
                    'WARC-Type' => 'response', 'WARC-Target-URI' => '<http://lantern.test/>', 'WARC-Concurrent-To' => '<urn:uuid:2>',
                    'WARC-Refers-To' => '<urn:uuid:3>', 'WARC-Truncated' => 'length', 'WARC-Payload-Digest' => 'sha1:'.sha1('<p>x'),
                    'Content-Type' => 'application/http; msgtype=response',
                ],
                $http,
            )),
            'version' => '1.1', 'type' => 'response', 'id' => 'urn:uuid:1', 'refersTo' => 'urn:uuid:3', 'concurrentTo' => 'urn:uuid:2',
            'uri' => 'http://lantern.test/', 'date' => '2024-11-03T10:00:00Z',
            'contentType' => 'application/http; msgtype=response', 'contentLength' => \strlen($http),
            'blockSha256' => hash('sha256', $http), 'payloadSha256' => hash('sha256', '<p>x'),
            'declared' => ['block' => null, 'payload' => 'sha1:'.sha1('<p>x')], 'digest' => 'ok', 'status' => 200, 'mime' => 'text/html',
            'truncated' => 'length', 'problem' => null,
        ]], $told->rows);
    }

    public function testEmptyLinesBetweenRecordsBelongToNobody(): void
    {
        [$a, $b] = [self::resource('aaaa'), self::resource('bbbb')];
        $told = $this->list($a."\r\n\r\n\n".$b."\r\n");
        self::assertSame([0, \strlen($a) + 5], $told->column('offset'));
        self::assertSame([\strlen($a), \strlen($b)], $told->column('length'));
        $told = $this->list((string) gzencode($a."\r\n\r\n".$b));
        self::assertSame([[0, \strlen($a) + 4], [\strlen($a), \strlen($b)]], [$told->column('offset'), $told->column('length')]);
    }

    public function testAFoldedValueBeginsWithItsFirstWord(): void
    {
        $told = $this->list(str_replace(
            'WARC-Target-URI: ',
            "WARC-Target-URI:\r\n ",
            self::record(['WARC-Type' => 'resource', 'WARC-Target-URI' => 'http://lantern.test/', 'Content-Type' => 'text/plain'], 'x'),
        ));
        self::assertSame('http://lantern.test/', $told->rows[0]['uri']);
    }

    /** A response of which nothing says that it is HTTP: its payload is its block; a digest of the body holds as well. */
    #[DataProvider('untyped')]
    public function testABlockWithoutATypeIsNotTakenForAMessage(?string $type, string $block, string $digested): void
    {
        $fields = [
            'WARC-Type' => 'response',
            'WARC-Target-URI' => 'http://lantern.test/',
            'WARC-Payload-Digest' => 'sha256:'.hash('sha256', $digested),
        ];
        $bytes = self::record($fields + (null === $type ? [] : ['Content-Type' => $type]), $block);
        $row = $this->list($bytes)->rows[0];
        self::assertSame(
            [hash('sha256', $block), 'ok', null, null, null],
            [$row['payloadSha256'], $row['digest'], $row['status'], $row['mime'], $row['problem']],
        );
        self::assertSame([], $this->check($bytes)->problems());
    }

    /** @return iterable<string, array{string|null, string, string}> */
    public static function untyped(): iterable
    {
        $http = "HTTP/1.1 200 OK\r\nContent-Type: text/html\r\nTransfer-Encoding: chunked\r\n\r\n4\r\n<p>x\r\n0\r\n\r\n";
        foreach (['no type' => null, 'an empty type' => ''] as $name => $type) {
            yield $name.', digest of the block' => [$type, $http, $http];
            yield $name.', digest of the body' => [$type, $http, '<p>x'];
            yield $name.', digest of the framed body' => [$type, $http, "4\r\n<p>x\r\n0\r\n\r\n"];
            yield $name.', no message' => [$type, '<p>x', '<p>x'];
        }
    }

    public function testARevisitMayHaveNoBlock(): void
    {
        $bytes = self::record(
            [
                'WARC-Type' => 'revisit',
                'WARC-Target-URI' => 'http://lantern.test/',
                'WARC-Profile' => 'http://netpreserve.org/warc/1.1/revisit/identical-payload-digest',
                'Content-Type' => 'application/http; msgtype=response',
            ],
            '',
        );
        self::assertSame([], $this->check($bytes)->problems());
    }

    public function testHalfAMemberCostsNoOther(): void
    {
        mt_srand(16);
        foreach ([40, 4_000, 70_000] as $size) {
            $members = [];
            for ($n = 0; $n < 3; ++$n) {
                $body = base64_encode(implode('', array_map(static fn (): string => \chr(mt_rand(0, 255)), range(1, $size))));
                $members[] = (string) gzencode(self::resource($body));
            }
            for ($try = 0; $try < 60; ++$try) {
                $cut = mt_rand(1, \strlen($members[1]) - 1);
                $told = $this->list($members[0].substr($members[1], 0, $cut).$members[2]);
                $last = $told->rows[\count($told->rows) - 1];
                self::assertSame(
                    [\strlen($members[0]) + $cut, \strlen($members[2]), null],
                    [$last['offset'], $last['length'], $last['problem']],
                    $size.' cut at '.$cut,
                );
                self::assertSame(1, $told->status);
            }
        }
    }

    /**
     * @param list<string> $problems code and offset
     */
    #[DataProvider('files')]
    public function testSaysWhatIsWrongAndReadsOn(string $bytes, array $problems, int $records): void
    {
        $told = $this->check($bytes);
        self::assertSame($problems, $told->problems());
        self::assertSame($records, $told->rows[0]['records']);
        $warnings = ['whole-file-gzip', 'missing-separator', 'bad-date', 'bad-http'];
        $valid = [] === array_filter($problems, static fn (string $p): bool => !\in_array(strstr($p, '@', true), $warnings, true));
        self::assertSame([$valid, $valid ? 0 : 1], [$told->rows[0]['valid'], $told->status]);
        foreach (\is_array($told->rows[0]['problems']) ? $told->rows[0]['problems'] : [] as $problem) {
            self::assertIsArray($problem);
            self::assertIsString($problem['message']);
            self::assertStringContainsString('(at byte '.json_encode($problem['offset']).').', $problem['message']);
        }
        $list = $this->list($bytes);
        self::assertCount($records, $list->rows);
        if ($valid) {
            self::assertSame(0, $list->status);
        }
    }

    /**
     * @return iterable<string, array{string, list<string>, int}>
     */
    public static function files(): iterable
    {
        $a = self::resource('aaaa');
        $b = self::resource('bbbb');
        $n = \strlen($a);
        yield 'sound' => [$a.$b, [], 2];
        yield 'empty' => ['', ['not-warc@0'], 0];
        yield 'no WARC' => ["<html>\n<p>no", ['not-warc@0'], 0];
        yield 'only line ends' => ["\r\n\r\n", ['not-warc@0'], 0];
        yield 'BOM' => ["\xEF\xBB\xBF".$a, ['garbage@0'], 1];
        yield 'trailing zeros' => [$a."\0\0\0\0", ['garbage@'.$n], 1];
        yield 'garbage between' => [$a."what is this\r\n".$b, ['garbage@'.$n], 2];
        yield 'extra blank lines' => ["\r\n".$a."\r\n\r\n\n".$b."\r\n", [], 2];
        yield 'no separator' => [substr($a, 0, -4).$b, ['missing-separator@0'], 2];
        yield 'half a separator at the end' => [substr($a, 0, -2), ['missing-separator@0'], 1];
        yield 'length too large' => [self::resource('aaaa', ['Content-Length' => '30']).$b.$b, ['bad-length@0'], 3];
        yield 'length too small' => [self::resource('aaaaaa', ['Content-Length' => '3']).$b, ['bad-length@0'], 2];
        yield 'length beyond the file' => [self::resource('aaaa', ['Content-Length' => '999999999999999999']).$b, ['bad-length@0'], 2];
        yield 'length no number' => [self::resource('aaaa', ['Content-Length' => '4 bytes']).$b, ['bad-length@0'], 2];
        yield 'length missing' => [self::resource('aaaa', ['Content-Length' => null]).$b, ['missing-field@0'], 2];
        yield 'cut off in the block' => [$a.substr($b, 0, -6), ['truncated@'.$n], 2];
        yield 'cut off in the header' => [$a.substr($b, 0, 40), ['truncated@'.$n], 1];
        yield 'LF alone' => [$a.str_replace("\r\n", "\n", $b), ['bad-header@'.$n, 'missing-separator@'.$n], 2];
        yield 'a field twice' => [
            self::resource('aaaa', ['WARC-Date' => "2024-11-03T10:00:00Z\r\nwarc-date: 2024-11-03T10:00:00Z"]), ['bad-header@0'], 1,
        ];
        yield 'concurrent to several' => [
            self::resource('aaaa', ['WARC-Concurrent-To' => "<urn:uuid:5>\r\nWARC-Concurrent-To: <urn:uuid:6>"]), [], 1,
        ];
        yield 'a line that is no field' => [self::resource('aaaa', ['X' => "y\r\nno field here"]), ['bad-header@0'], 1];
        yield 'folded' => [self::resource('aaaa', ['X' => "y\r\n  more"]), [], 1];
        yield 'without id, date and type' => [
            self::resource('aaaa', ['WARC-Record-ID' => null, 'WARC-Date' => null, 'WARC-Type' => null]),
            ['missing-field@0', 'missing-field@0', 'missing-field@0'],
            1,
        ];
        yield 'unknown type' => [self::resource('aaaa', ['WARC-Type' => 'x-own']), [], 1];
        yield 'old version' => [str_replace('WARC/1.1', 'WARC/0.18', $a).$b, ['bad-version@0'], 2];
        yield 'date of a day in 1.1' => [self::resource('aaaa', ['WARC-Date' => '2024-11-03']), [], 1];
        yield 'no date' => [self::resource('aaaa', ['WARC-Date' => 'yesterday']), ['bad-date@0'], 1];
        yield 'a day that is none' => [self::resource('aaaa', ['WARC-Date' => '2024-02-30T10:00:00Z']), ['bad-date@0'], 1];
        yield 'fractions in 1.0' => [
            str_replace('WARC/1.1', 'WARC/1.0', self::resource('aaaa', ['WARC-Date' => '2024-11-03T10:00:00.5Z'])), ['bad-date@0'], 1,
        ];
        yield 'digest of other bytes' => [self::resource('aaaa', ['WARC-Block-Digest' => 'sha1:'.sha1('b')]).$b, ['digest-mismatch@0'], 2];
        yield 'no HTTP' => [
            self::record(
                ['WARC-Type' => 'response', 'WARC-Target-URI' => 'http://x.test/', 'Content-Type' => 'application/http'], 'SSH-2.0',
            ),
            ['bad-http@0'],
            1,
        ];

        [$ga, $gb] = [(string) gzencode($a), (string) gzencode($b)];
        $g = \strlen($ga);
        yield 'gzip' => [$ga.$gb, [], 2];
        yield 'one member around all' => [(string) gzencode($a.$b.$a), ['whole-file-gzip@0'], 3];
        yield 'gzip with garbage between' => [$ga.'xyz'.$gb, ['garbage@'.$g], 2];
        yield 'gzip with trailing zeros' => [$ga."\0\0\0\0", ['garbage@'.$g], 1];
        yield 'gzip cut off' => [$ga.substr($gb, 0, -9), ['truncated@'.$g], 2];
        yield 'gzip with a wrong check sum' => [substr_replace($ga, 'xxxx', -8, 4).$gb, ['bad-gzip@0'], 2];
        yield 'gzip with a damaged middle' => [$ga.substr_replace($ga, "\xff\xff\xff\xff\xff\xff", 30, 6).$gb, ['bad-gzip@'.$g], 2];
        yield 'gzip with a damaged beginning' => ['xx'.substr($ga, 2).$gb, ['garbage@0'], 1];
        yield 'length too large in gzip' => [gzencode(self::resource('aaaa', ['Content-Length' => '300'])).$gb, ['bad-length@0'], 2];
        yield 'length too small in gzip' => [gzencode(self::resource('aaaaaa', ['Content-Length' => '3'])).$gb, ['bad-length@0'], 2];
        yield 'length missing in gzip' => [gzencode(self::resource('aaaa', ['Content-Length' => null])).$gb, ['missing-field@0'], 2];
        yield 'garbage in a member' => [gzencode($a.'what is this').$gb, ['garbage@0'], 2];
        yield 'gzip of something else' => [(string) gzencode('just text'), ['not-warc@0'], 0];
        yield 'no gzip at all' => ["\x1f\x8bnonsense that is long enough", ['not-warc@0'], 0];
    }

    /**
     * @param array<string, string|null> $fields
     */
    #[DataProvider('messages')]
    public function testPayloadsOfMessages(
        array $fields,
        string $block,
        ?string $payload,
        string $digest,
        ?int $status,
        ?string $mime,
    ): void {
        $row = $this->list(self::record(
            $fields + [
                'WARC-Type' => 'response', 'WARC-Target-URI' => 'http://x.test/', 'Content-Type' => 'application/http;msgtype=response',
            ],
            $block,
        ))
            ->rows[0];
        self::assertSame(
            [null === $payload ? null : hash('sha256', $payload), $digest, $status, $mime],
            [$row['payloadSha256'], $row['digest'], $row['status'], $row['mime']],
        );
        self::assertSame(hash('sha256', $block), $row['blockSha256']);
    }

    /**
     * @return iterable<string, array{array<string, string|null>, string, string|null, string, int|null, string|null}>
     */
    public static function messages(): iterable
    {
        $ok = "HTTP/1.1 200 OK\r\nContent-Type: text/plain\r\n";
        $chunked = $ok."Transfer-Encoding: chunked\r\n\r\n";
        yield 'plain' => [[], $ok."\r\nabc", 'abc', 'absent', 200, 'text/plain'];
        yield 'no body' => [[], $ok."\r\n", '', 'absent', 200, 'text/plain'];
        yield 'more than its length' => [[], $ok."Content-Length: 2\r\n\r\nabc", 'abc', 'absent', 200, 'text/plain'];
        yield 'chunked' => [
            ['WARC-Payload-Digest' => 'md5:'.md5('abcde')], $chunked."3;x=\"y\"\r\nabc\r\n2\r\nde\r\n0\r\nT: u\r\n\r\n", 'abcde', 'ok', 200,
            'text/plain',
        ];
        yield 'chunked, digest of the chunks' => [
            ['WARC-Payload-Digest' => 'sha1:'.sha1("3\r\nabc\r\n0\r\n\r\n")],
            $chunked."3\r\nabc\r\n0\r\n\r\n",
            'abc',
            'ok',
            200,
            'text/plain',
        ];
        yield 'chunked with LF' => [[], $chunked."3\nabc\n0\n\n", 'abc', 'absent', 200, 'text/plain'];
        yield 'chunked without an end' => [[], $chunked."3\r\nabc\r\n", 'abc', 'absent', 200, 'text/plain'];
        yield 'said to be chunked' => [[], $chunked.'hello there', 'hello there', 'absent', 200, 'text/plain'];
        yield 'said to be chunked, in lines' => [[], $chunked."<p>one\r\n<p>two\r\n", "<p>one\r\n<p>two\r\n", 'absent', 200, 'text/plain'];
        yield 'chunks of gzip' => [
            [],
            $ok."Content-Encoding: gzip\r\nTransfer-Encoding: gzip, chunked\r\n\r\n3\r\n\x1f\x8b\x08\r\n0\r\n\r\n",
            "\x1f\x8b\x08",
            'absent',
            200,
            'text/plain',
        ];
        yield 'interim answers' => [
            [],
            "HTTP/1.1 103 Hints\r\nContent-Type: a/b\r\n\r\nHTTP/1.1 404 \r\nContent-Type: TEXT/x; y\r\n\r\nabc",
            'abc',
            'absent',
            404,
            'text/x',
        ];
        yield 'no reason' => [[], "HTTP/2 204\r\n\r\n", '', 'absent', 204, null];
        yield 'no HTTP' => [['Content-Type' => 'text/plain'], 'abc', 'abc', 'absent', null, null];
        yield 'request' => [['WARC-Type' => 'request'], "POST / HTTP/1.1\r\nHost: x\r\n\r\na=1", 'a=1', 'absent', null, null];
        yield 'revisit' => [
            [
                'WARC-Type' => 'revisit',
                'WARC-Profile' => 'http://netpreserve.org/warc/1.1/revisit/identical-payload-digest',
                'WARC-Payload-Digest' => 'sha1:'.sha1('of another'),
            ],
            $ok."\r\n",
            null,
            'absent',
            200,
            'text/plain',
        ];
        yield 'metadata' => [['WARC-Type' => 'metadata', 'Content-Type' => 'application/warc-fields'], 'a: b', null, 'absent', null, null];
        yield 'resource' => [
            [
                'WARC-Type' => 'resource',
                'Content-Type' => 'Image/PNG; x=y',
                'WARC-Block-Digest' => 'SHA-256:'.strtoupper(hash('sha256', 'png')),
            ],
            'png',
            'png',
            'ok',
            null,
            'image/png',
        ];
        yield 'known and unknown digest' => [
            ['WARC-Block-Digest' => 'whirl:1234', 'WARC-Payload-Digest' => 'sha512:'.hash('sha512', 'abc')],
            $ok."\r\nabc",
            'abc',
            'ok',
            200,
            'text/plain',
        ];
        yield 'unknown digest' => [['WARC-Block-Digest' => 'whirl:1234'], $ok."\r\nabc", 'abc', 'unsupported', 200, 'text/plain'];
        yield 'digest without value' => [['WARC-Block-Digest' => 'sha1:'], $ok."\r\nabc", 'abc', 'mismatch', 200, 'text/plain'];
    }

    public function testPlacesLeadBackToTheirRecords(): void
    {
        $records = [
            self::resource('one'), self::resource('two', ['X' => str_repeat('y', 5_000)]), self::resource(str_repeat('three', 50_000)),
        ];
        foreach ([
            implode('', $records),
            implode('', array_map(static fn (string $r): string => (string) gzencode($r), $records)),
            (string) gzencode(implode('', $records)),
        ] as $n => $bytes) {
            $path = $this->folder->file('places'.$n, $bytes);
            $rows = Told::by(new WarcListCommand(), ['file' => $path])->rows;
            self::assertSame($rows[0]['offset'], 0);
            self::assertSame($rows[1]['offset'], $rows[0]['length']);
            self::assertIsInt($rows[2]['offset']);
            self::assertIsInt($rows[2]['length']);
            self::assertSame(2 === $n ? \strlen(implode('', $records)) : \strlen($bytes), $rows[2]['offset'] + $rows[2]['length']);
            self::assertSame(
                str_repeat('three', 50_000), implode('', iterator_to_array(WarcReader::at($path, $rows[2]['offset'])->block(), false)),
            );
        }
    }

    public function testStandardInputAndFilesThatAreNotThere(): void
    {
        $command = 'php '.escapeshellarg(\dirname(__DIR__, 2).'/bin/ypomna').' ';
        exec(
            'cat '.escapeshellarg($this->folder->file('a', (string) gzencode(self::resource('aaaa')))).' | '.$command.'warc:list - --json',
            $out,
            $status,
        );
        self::assertSame([0, 1], [$status, \count($out)]);
        exec($command.'warc:check '.escapeshellarg($this->folder->path.'/a').' /nowhere/b.warc --json 2>/dev/null', $check, $status);
        self::assertSame([2, 1], [$status, \count($check)]);
        foreach (['warc:list', 'warc:list a b c', 'warc:check', 'mhtml:list /nowhere', 'warc:list --colour x'] as $wrong) {
            exec($command.$wrong.' 2>&1', $said, $status);
            self::assertSame(2, $status, $wrong);
        }
        exec($command.'warc:list '.escapeshellarg($this->folder->path).' 2>&1', $folder, $status);
        self::assertSame(2, $status);
        self::assertStringContainsString('this is a folder', implode('', $folder));
    }

    public function testOtherToolsFilesAreReadWhole(): void
    {
        if ('' === (string) shell_exec('command -v wget')) {
            self::fail('wget is missing; it is part of a Debian installation.');
        }
        $folder = escapeshellarg($this->folder->path);
        mkdir($this->folder->path.'/web');
        $this->folder->file('web/index.html', '<link rel=stylesheet href=a.css><p>x');
        $this->folder->file('web/a.css', str_repeat('p{color:red}', 2_000));
        $server = proc_open(
            ['php', '-S', '127.0.0.1:7461', '-t', $this->folder->path.'/web'],
            [['file', '/dev/null', 'r'], ['file', '/dev/null', 'w'], ['file', '/dev/null', 'w']],
            $pipes,
        );
        self::assertNotFalse($server);
        for ($n = 0; $n < 100 && false === @file_get_contents('http://127.0.0.1:7461/'); ++$n) {
            usleep(50_000);
        }
        $wget = "cd {$folder} && wget -q -p -O /dev/null --tries=2 --timeout=10 ";
        exec($wget.'--warc-file=one --warc-cdx http://127.0.0.1:7461/', $out, $one);
        exec($wget.'--no-warc-compression --warc-file=plain http://127.0.0.1:7461/', $out, $plain);
        exec($wget.'--warc-file=again --warc-dedup=one.cdx http://127.0.0.1:7461/', $out, $again);
        proc_terminate($server);
        foreach (['one.warc.gz', 'plain.warc', 'again.warc.gz'] as $name) {
            $list = Told::by(new WarcListCommand(), ['file' => $this->folder->path.'/'.$name]);
            self::assertSame(0, $list->status, $name);
            self::assertSame([null], array_values(array_unique($list->column('problem'), \SORT_REGULAR)), $name);
            self::assertContains('http://127.0.0.1:7461/', $list->column('uri'), $name);
        }
        self::assertContains('revisit', Told::by(new WarcListCommand(), ['file' => $this->folder->path.'/again.warc.gz'])->column('type'));
        self::assertSame(
            0,
            Told::by(new WarcCheckCommand(), ['file' => [$this->folder->path.'/one.warc.gz', $this->folder->path.'/plain.warc']])->status,
        );
    }

    public function testMutantsAndBombsEndInFindings(): void
    {
        mt_srand(11);
        $records = self::resource('aaaa')
            .self::record(
                ['WARC-Type' => 'response', 'WARC-Target-URI' => 'http://x.test/', 'Content-Type' => 'application/http'],
                "HTTP/1.1 200 OK\r\nTransfer-Encoding: chunked\r\n\r\n3\r\nabc\r\n0\r\n\r\n",
            )
            .self::resource('bbbb');
        $seeds = [
            $records,
            implode(
                '',
                array_map(
                    static fn (string $r): string => (string) gzencode($r),
                    explode("\x00", str_replace("\r\n\r\nWARC", "\r\n\r\n\x00WARC", $records)),
                ),
            ),
            (string) gzencode($records),
        ];
        for ($n = 0; $n < 2_000; ++$n) {
            $bytes = $seeds[$n % 3];
            for ($times = mt_rand(1, 5); $times > 0; --$times) {
                $at = mt_rand(0, \strlen($bytes));
                $bytes = match (mt_rand(0, 4)) {
                    0 => substr($bytes, 0, $at),
                    1 => substr_replace($bytes, \chr(mt_rand(0, 255)), min($at, max(0, \strlen($bytes) - 1)), 1),
                    2 => substr_replace($bytes, substr($bytes, mt_rand(0, $at), mt_rand(0, 200)), $at, 0),
                    3 => substr_replace($bytes, '', $at, mt_rand(1, 60)),
                    default => (string) preg_replace('/Content-Length: \d+/', 'Content-Length: '.mt_rand(0, 99_999), $bytes, 1),
                };
            }
            $path = $this->folder->file('m', $bytes);
            $reader = WarcReader::open($path);
            $last = -1;
            foreach ($reader->records() as $record) {
                self::assertGreaterThanOrEqual($last, $record->offset);
                $last = $record->offset;
                $record->finish();
                try {
                    WarcReader::at($path, $record->offset)->finish();
                } catch (WarcError) {
                    self::assertNotSame([], $reader->findings() + $record->findings());
                }
            }
        }
        foreach ([
            str_repeat("\x1f\x8b\x08", 50_000), str_repeat('WARC/1.1', 50_000), str_repeat("WARC/1.1\r\n", 20_000),
            "WARC/1.1\r\n".str_repeat("A: b\r\n", 60_000)."\r\n", str_repeat(self::resource('x', ['Content-Length' => '100000']), 3_000),
            (string) gzencode("WARC/1.1\r\nWARC-Type: resource\r\nContent-Length: 100000000\r\n\r\n".str_repeat("\0", 100_000_000)),
            str_repeat("\n", 3_000_000),
        ] as $bomb) {
            self::assertSame(1, $this->check($bomb)->status);
        }
        self::assertLessThan(400_000_000, memory_get_peak_usage());
    }

    public function testMemoryDoesNotGrowWithTheFile(): void
    {
        $path = $this->folder->path.'/large.warc.gz';
        $handle = fopen($path, 'w');
        self::assertNotFalse($handle);
        $small = (string) gzencode(self::resource(str_repeat('small ', 200)));
        for ($n = 0; $n < 20_000; ++$n) {
            fwrite($handle, $small);
        }
        fwrite($handle, (string) gzencode(self::resource(str_repeat(random_bytes(1_000), 60_000)), 1));
        fclose($handle);
        $command = 'php -d memory_limit=64M '.escapeshellarg(\dirname(__DIR__, 2).'/bin/ypomna').' ';
        exec($command.'warc:check --json '.escapeshellarg($path), $check, $status);
        self::assertSame(0, $status);
        self::assertStringContainsString('"records":20001', $check[0]);
        exec($command.'warc:list --json '.escapeshellarg($path).' | tail -n 1', $list, $status);
        self::assertStringContainsString('"contentLength":60000000', $list[0]);
    }

    private function list(string $bytes): Told
    {
        return Told::by(new WarcListCommand(), ['file' => $this->folder->file('x.warc', $bytes)]);
    }

    private function check(string $bytes): Told
    {
        return Told::by(new WarcCheckCommand(), ['file' => [$this->folder->file('x.warc', $bytes)]]);
    }

    /**
     * @param array<string, string|null> $fields
     */
    private static function resource(string $block, array $fields = []): string
    {
        return self::record(
            $fields + ['WARC-Type' => 'resource', 'WARC-Target-URI' => 'http://x.test/', 'Content-Type' => 'text/plain'], $block,
        );
    }

    /**
     * @param array<string, string|null> $fields null to leave one out
     */
    private static function record(array $fields, string $block): string
    {
        $header = '';
        foreach ($fields + [
            'WARC-Record-ID' => '<urn:uuid:1>', 'WARC-Date' => '2024-11-03T10:00:00Z', 'Content-Length' => (string) \strlen($block),
        ] as $name => $value) {
            $header .= null === $value ? '' : "{$name}: {$value}\r\n";
        }

        return "WARC/1.1\r\n{$header}\r\n{$block}\r\n\r\n";
    }
}
