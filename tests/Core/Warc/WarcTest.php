<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Warc;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Http\Body;
use Ypomna\Core\Warc\Block;
use Ypomna\Core\Warc\DigestVerdict;
use Ypomna\Core\Warc\HttpRecord;
use Ypomna\Core\Warc\Inspector;
use Ypomna\Core\Warc\RecordType;
use Ypomna\Core\Warc\WarcError;
use Ypomna\Core\Warc\WarcFinding;
use Ypomna\Core\Warc\WarcReader;
use Ypomna\Core\Warc\WarcWriter;
use Ypomna\Tests\Support\Folder;
use Ypomna\Tests\Support\WarcBuilder;

final class WarcTest extends TestCase
{
    private Folder $folder;

    protected function setUp(): void
    {
        $this->folder = new Folder();
    }

    public function testWhatIsWrittenIsReadAgain(): void
    {
        $builder = (new WarcBuilder())->exchange('http://lantern.test/a', '2024-11-03T10:00:00.123456Z', '<p>one')->exchange(
            'http://lantern.test/b', '2024-11-03T10:00:01Z', str_repeat('two ', 90_000),
        );
        $path = $this->folder->file('a.warc.gz', $builder->bytes());
        $reader = WarcReader::open($path);
        $seen = [];
        foreach ($reader->records() as $record) {
            $facts = Inspector::inspect($record);
            $seen[] = [$record->offset, $record->header->type(), $record->header->uri(), $record->header->date(), $facts->digest];
        }
        self::assertSame([], $reader->findings());
        self::assertSame($builder->offsets, array_column($seen, 0));
        self::assertSame(
            [$builder->offsets[1], 'response', 'http://lantern.test/a', '2024-11-03T10:00:00.123456Z', DigestVerdict::Ok], $seen[1],
        );
        self::assertSame(['request', 'response', 'request', 'response'], array_column($seen, 1));
    }

    public function testTheSameRecordsGiveTheSameBytes(): void
    {
        $make = static fn (): string => (new WarcBuilder())->exchange('http://lantern.test/', '2024-11-03T10:00:00Z', 'x')->bytes();
        self::assertSame($make(), $make());
    }

    public function testEachRecordIsAGzipMemberOfItsOwn(): void
    {
        $builder = (new WarcBuilder())->exchange('http://lantern.test/', '2024-11-03T10:00:00Z', 'x');
        foreach ($builder->offsets as $i => $offset) {
            $member = substr($builder->bytes(), $offset, ($builder->offsets[$i + 1] ?? \PHP_INT_MAX) - $offset);
            self::assertStringStartsWith('WARC/1.1', (string) gzdecode($member));
        }
    }

    public function testARecordIsReadFromTheMiddleOfAFile(): void
    {
        $builder = new WarcBuilder();
        for ($i = 0; $i < 200; ++$i) {
            $builder->exchange("http://lantern.test/{$i}", '2024-11-03T10:00:00Z', "page {$i}");
        }
        $path = $this->folder->file('many.warc.gz', $builder->bytes());
        $record = HttpRecord::of(WarcReader::at($path, $builder->offsets[251]));
        self::assertSame('http://lantern.test/125', $record->record->header->uri());
        self::assertSame('page 125', Body::collect($record->body(), 100));
        self::assertSame('text/html', $record->mime());
    }

    public function testReadsPlainFilesAndOldHabits(): void
    {
        $block = "HTTP/1.1 200 OK\r\n\r\nx";
        $plain = "\r\nWARC/1.0\r\nwarc-type: response\r\nWARC-Record-ID: <urn:uuid:1>\r\nWARC-Target-URI:"
            ." <http://lantern.test/>\r\nWARC-Date: 2024-11-03T10:00:00Z\r\nContent-Type: application/http;\r\n "
                ." msgtype=response\r\nContent-Length: "
            .\strlen($block)."\r\n\r\n".$block."\r\n\r\n"
            ."WARC/1.0\nWARC-Type: metadata\nContent-Length: 2\n\nab\n\n";
        $reader = WarcReader::open($this->folder->file('a.warc', $plain));
        $records = [];
        foreach ($reader->records() as $record) {
            $records[] = [
                $record->offset,
                $record->header->version,
                $record->header->type(),
                $record->header->uri(),
                Inspector::inspect($record)->http?->status,
            ];
        }
        self::assertSame([2, '1.0', 'response', 'http://lantern.test/', 200], $records[0]);
        self::assertSame([(int) strpos($plain, 'WARC/1.0', 5), '1.0', 'metadata', null, null], $records[1]);
        self::assertSame(['bad-header', 'missing-field', 'missing-field', 'missing-separator'], self::codes($reader->findings()));
    }

    public function testReadingGoesOnBehindADamagedRecord(): void
    {
        $builder = (new WarcBuilder())->exchange(
            'http://lantern.test/a', '2024-11-03T10:00:00Z', str_repeat('a', 500),
        )->exchange('http://lantern.test/b', '2024-11-03T10:00:01Z', 'b');
        $bytes = $builder->bytes();
        for ($i = 20; $i < 60; ++$i) {
            $bytes[$builder->offsets[1] + $i] = 'x';
        }
        $reader = WarcReader::open($this->folder->file('bad.warc.gz', $bytes));
        $uris = [];
        foreach ($reader->records() as $record) {
            $uris[] = $record->header->type().' '.$record->header->uri();
        }
        self::assertSame(['request http://lantern.test/a', 'request http://lantern.test/b', 'response http://lantern.test/b'], $uris);
        self::assertSame($builder->offsets[1], $reader->findings()[0]->offset);
    }

    public function testAMissingFileIsNamed(): void
    {
        $this->expectException(WarcError::class);
        $this->expectExceptionMessage('nowhere.warc');
        WarcReader::open($this->folder->path.'/nowhere.warc');
    }

    #[DataProvider('digests')]
    public function testChecksDeclaredDigests(string $declared, DigestVerdict $expected): void
    {
        $bytes = "WARC/1.1\r\nWARC-Type: resource\r\nContent-Type: text/plain\r\nWARC-Block-Digest: {$declared}\r\nContent-Length:"
            ." 11\r\n\r\nPetrel Dawn\r\n\r\n";
        foreach (WarcReader::open($this->folder->file('d.warc', $bytes))->records() as $record) {
            self::assertSame($expected, Inspector::inspect($record)->digest);
        }
    }

    /**
     * @return iterable<string, array{string, DigestVerdict}>
     */
    public static function digests(): iterable
    {
        $text = 'Petrel Dawn';
        yield 'sha1 base32' => ['sha1:'.self::base32(sha1($text, true)), DigestVerdict::Ok];
        yield 'sha1 base32, lower case' => ['SHA-1:'.strtolower(self::base32(sha1($text, true))), DigestVerdict::Ok];
        yield 'sha256 hex' => ['sha256:'.hash('sha256', $text), DigestVerdict::Ok];
        yield 'sha-256 upper case' => ['sha-256:'.strtoupper(hash('sha256', $text)), DigestVerdict::Ok];
        yield 'sha512 base32 padded' => ['sha512:'.self::base32(hash('sha512', $text, true)).'=', DigestVerdict::Ok];
        yield 'md5' => ['md5:'.md5($text), DigestVerdict::Ok];
        yield 'another text' => ['sha1:'.sha1('Sound Heron'), DigestVerdict::Mismatch];
        yield 'too short' => ['sha1:abcd', DigestVerdict::Mismatch];
        yield 'no alphabet' => ['md5:!!!!', DigestVerdict::Mismatch];
        yield 'unknown' => ['whirl:abcd', DigestVerdict::Unsupported];
    }

    public function testAPayloadDigestHoldsWithOrWithoutChunks(): void
    {
        $body = "3\r\nabc\r\n0\r\n\r\n";
        $block = "HTTP/1.1 100 Continue\r\n\r\nHTTP/1.1 200 OK\r\nTransfer-Encoding: chunked\r\n\r\n".$body;
        foreach ([sha1('abc'), sha1($body)] as $digest) {
            $bytes = "WARC/1.1\r\nWARC-Type: response\r\nContent-Type: application/http\r\nWARC-Payload-Digest: sha1:{$digest}\r\n"
                .'Content-Length: '
                .\strlen($block)."\r\n\r\n{$block}\r\n\r\n";
            foreach (WarcReader::open($this->folder->file('p.warc', $bytes))->records() as $record) {
                $facts = Inspector::inspect($record);
                self::assertSame(DigestVerdict::Ok, $facts->digest);
                self::assertSame(hash('sha256', 'abc'), $facts->payloadSha256);
                self::assertSame(200, $facts->http?->status);
                self::assertSame(3, $facts->payloadBytes);
            }
        }
    }

    public function testALineEndInAFieldBeginsNoFieldOfItsOwn(): void
    {
        $stream = fopen('php://temp', 'w+');
        self::assertIsResource($stream);
        (new WarcWriter($stream))->write(
            RecordType::Metadata,
            'urn:uuid:1',
            new \DateTimeImmutable('2024-11-03'),
            ['WARC-Target-URI' => "http://x.test/\r\nWARC-Type: response"],
            Block::ofString(''),
        );
        rewind($stream);
        self::assertStringNotContainsString("\nWARC-Type: response", (string) gzdecode((string) stream_get_contents($stream)));
    }

    public function testAFullDiskIsToldWhileWriting(): void
    {
        $full = fopen('/dev/full', 'w');
        self::assertIsResource($full);
        stream_set_write_buffer($full, 0);
        $this->expectException(\RuntimeException::class);
        $this->expectExceptionMessage('took no more');
        (new WarcWriter($full))->write(
            RecordType::Metadata, 'urn:uuid:1', new \DateTimeImmutable('2024-11-03'), [], Block::ofString(random_bytes(300_000)),
        );
    }

    public function testMutatedFilesBringNothingDown(): void
    {
        mt_srand(20241103);
        $seed = (new WarcBuilder())->exchange(
            'http://lantern.test/a', '2024-11-03T10:00:00Z', str_repeat('ab', 200),
        )->exchange('http://lantern.test/b', '2024-11-03T10:00:01Z', 'b')->bytes();
        $plain = '';
        foreach ([0, 1, 2, 3] as $i) {
            $plain .= "WARC/1.1\r\nWARC-Type: resource\r\nWARC-Date: 2024-11-03T10:00:0{$i}Z\r\nContent-Type: text/plain\r\n"
                ."Content-Length: 5\r\n\r\nab\r\nc\r\n\r\n";
        }
        $readable = 0;
        for ($n = 0; $n < 600; ++$n) {
            $reader = WarcReader::open($this->folder->file('m.warc', self::mutate(0 === $n % 2 ? $seed : $plain)));
            foreach ($reader->records() as $record) {
                Inspector::inspect($record);
                ++$readable;
            }
        }
        self::assertGreaterThan(600, $readable);
        self::assertLessThan(64_000_000, memory_get_peak_usage());
    }

    private static function mutate(string $bytes): string
    {
        for ($times = mt_rand(1, 6); $times > 0; --$times) {
            $at = mt_rand(0, max(0, \strlen($bytes) - 1));
            $bytes = match (mt_rand(0, 4)) {
                0 => substr($bytes, 0, $at),
                1 => substr_replace($bytes, \chr(mt_rand(0, 255)), $at, 1),
                2 => substr_replace($bytes, substr($bytes, mt_rand(0, $at), mt_rand(0, 80)), $at, 0),
                3 => substr_replace($bytes, '', $at, mt_rand(1, 40)),
                default => (string) preg_replace('/Content-Length: \d+/', 'Content-Length: '.mt_rand(0, 9_999_999), $bytes, 1),
            };
        }

        return $bytes;
    }

    /**
     * @param list<WarcFinding> $findings
     *
     * @return list<string>
     */
    private static function codes(array $findings): array
    {
        return array_map(static fn (WarcFinding $finding): string => $finding->code->value, $findings);
    }

    private static function base32(string $bytes): string
    {
        $bits = '';
        foreach (str_split($bytes) as $byte) {
            $bits .= str_pad(decbin(\ord($byte)), 8, '0', \STR_PAD_LEFT);
        }
        $out = '';
        foreach (str_split($bits, 5) as $five) {
            $out .= 'ABCDEFGHIJKLMNOPQRSTUVWXYZ234567'[(int) bindec(str_pad($five, 5, '0'))];
        }

        return $out;
    }
}
