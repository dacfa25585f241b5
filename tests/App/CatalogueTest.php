<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Doctrine\DBAL\Connection;
use Symfony\Component\Messenger\Transport\TransportInterface;
use Ypomna\App\Catalogue\AddressRepository;
use Ypomna\App\Catalogue\CaptureRepository;
use Ypomna\App\Compare\Describer;
use Ypomna\App\Compare\Message\DescribeFile;
use Ypomna\App\Desk\Message\CountWords;
use Ypomna\App\Exchange\Importer;
use Ypomna\App\Exchange\UnusableFile;
use Ypomna\App\Search\Message\IndexFile;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Viewer;
use Ypomna\Tests\Support\WarcBuilder;

final class CatalogueTest extends AppTestCase
{
    private const PAGE = '<!doctype html><title>Stern door</title><p>The crew measured 40 centimetres of water.';

    public function testAFileIsTakenInWithItsPagesAndParts(): void
    {
        $taken = $this->takeIn((new WarcBuilder())
            ->exchange('http://lantern.test/a', '2024-11-03T10:00:00.123456Z', self::PAGE, destination: 'document')
            ->exchange('http://lantern.test/a.png', '2024-11-03T10:00:01Z', 'png', 'image/png', destination: 'image')
            ->exchange('http://lantern.test/frame', '2024-11-03T10:00:02Z', '<p>frame', destination: 'iframe'));
        self::assertSame([6, 1, false, []], [$taken->records, $taken->captures, $taken->known, $taken->findings]);
        $capture = $this->captureOf('https://www.lantern.test/a?utm_source=x#y');
        self::assertSame('Stern door', $capture->title);
        self::assertSame('2024-11-03T10:00:00.123456', $capture->capturedAt->format('Y-m-d\TH:i:s.u'));
        self::assertSame([3, 200, 'text/html'], [$capture->parts, $capture->status, $capture->mime]);
        self::assertSame(1, $capture->address->captures);
        self::assertNull(self::service(AddressRepository::class)->of(Viewer::system(), 'http://lantern.test/frame'));
        self::assertSame(3, (int) self::text("SELECT COUNT(*) FROM record WHERE role = 'answer'"));
    }

    public function testTheSameFileIsKnownByItsDigest(): void
    {
        $warc = (new WarcBuilder())->exchange('http://lantern.test/a', '2024-11-03T10:00:00Z', self::PAGE);
        $this->takeIn($warc);
        self::assertTrue($this->takeIn($warc, 'another-name.warc.gz')->known);
        self::assertSame(1, (int) self::text('SELECT COUNT(*) FROM capture'));
    }

    public function testARedirectIsKeptAsOneAndLeadsToItsTarget(): void
    {
        $this->takeIn((new WarcBuilder())
            ->exchange(
                'http://merrowline.test/fares',
                '2024-11-03T10:00:00Z',
                'moved',
                status: 301,
                fields: ['Location: http://www.saltmarch-ferries.test/fares'],
                destination: 'document',
            )
            ->exchange('http://www.saltmarch-ferries.test/fares', '2024-11-03T10:00:01Z', self::PAGE, destination: 'document'));
        self::assertSame('http://www.saltmarch-ferries.test/fares', $this->captureOf('http://merrowline.test/fares')->redirectTo);
        self::assertFalse($this->captureOf('http://merrowline.test/fares')->isAlive());
        self::assertTrue($this->captureOf('http://saltmarch-ferries.test/fares')->isAlive());
    }

    public function testNearestNeighboursAndLastAlive(): void
    {
        foreach (['2024-01-01' => 200, '2024-03-01' => 200, '2025-01-01' => 404] as $day => $status) {
            $this->takeIn((new WarcBuilder($day))->exchange('http://lantern.test/a', $day.'T00:00:00Z', self::PAGE, status: $status));
        }
        $finder = self::service(CaptureRepository::class);
        $day = static fn (?object $capture): ?string => $capture instanceof \Ypomna\App\Catalogue\Entity\Capture
            ? $capture->capturedAt->format('Y-m-d')
            : null;
        self::assertSame(
            '2024-01-01', $day($finder->nearest(Viewer::system(), 'http://lantern.test/a', new \DateTimeImmutable('2024-01-29'))),
        );
        self::assertSame(
            '2024-03-01', $day($finder->nearest(Viewer::system(), 'http://lantern.test/a', new \DateTimeImmutable('2024-02-02'))),
        );
        $middle = $this->captureOf('http://lantern.test/a', '2024-03-02');
        self::assertSame(
            ['2024-01-01', '2025-01-01'],
            [$day($finder->earlier(Viewer::system(), $middle)), $day($finder->later(Viewer::system(), $middle))],
        );
        self::assertSame(
            ['2024-01-01', '2025-01-01', '2024-03-01'],
            [
                $day($finder->first(Viewer::system(), $middle->address)),
                $day($finder->last(Viewer::system(), $middle->address)),
                $day($finder->lastAlive(Viewer::system(), $middle->address)),
            ],
        );
        self::assertNull($finder->nearest(Viewer::system(), 'http://lantern.test/never', new \DateTimeImmutable('2024-01-01')));
    }

    public function testHowMuchChangedIsMeasuredAlsoWhenAFileComesInBetween(): void
    {
        $versions = [
            '2024-01-01' => 'one two three four five.', '2024-03-01' => 'one two three four six.',
            '2024-02-01' => 'Something else altogether stands here.',
        ];
        foreach ($versions as $day => $text) {
            $this->takeIn((new WarcBuilder($day))->exchange('http://lantern.test/a', $day.'T00:00:00Z', '<p>'.$text));
        }
        $changed = self::service(Connection::class)->fetchFirstColumn('SELECT changed FROM capture ORDER BY captured_at');
        self::assertNull($changed[0]);
        self::assertGreaterThan(0.9, $changed[1]);
        self::assertGreaterThan(0.9, $changed[2]);
    }

    public function testWhatIsNoWarcIsRefusedByName(): void
    {
        $this->expectException(UnusableFile::class);
        $this->expectExceptionMessage('exchange.file_is_of_no_known_kind');
        self::service(Importer::class)->file($this->folder->file('notes.txt', "just\nnotes\n"), new Actor('Tomas Okoye'));
    }

    public function testADamagedFileIsTakenInWithWhatCanBeReadAndWhatIsWrong(): void
    {
        $warc = (new WarcBuilder())->exchange(
            'http://lantern.test/a', '2024-11-03T10:00:00Z', self::PAGE,
        )->exchange('http://lantern.test/b', '2024-11-03T10:00:01Z', self::PAGE);
        $bytes = $warc->bytes();
        $bytes[$warc->offsets[1] + 30] = \chr(\ord($bytes[$warc->offsets[1] + 30]) ^ 0x55);
        $taken = self::service(Importer::class)->file($this->folder->file('damaged.warc.gz', $bytes), new Actor('Tomas Okoye'));
        self::assertSame(1, $taken->captures);
        self::assertSame($warc->offsets[1], $taken->findings[0]->offset);
    }

    public function testRecordsWithoutAnIdOrWithOneTwiceHideNoPage(): void
    {
        $record = static fn (string $path, string $id): string =>
            "WARC/1.0\r\nWARC-Type: response\r\n{$id}WARC-Date: 2024-11-03T10:00:00Z\r\nWARC-Target-URI: http://lantern.test/{$path}\r\n"
                ."Content-Type: application/http\r\nContent-Length: 48\r\n\r\nHTTP/1.1 200 OK\r\nContent-Type: text/html\r\n\r\n"
                    ."<p>{$path}\r\n\r\n";
        $same = "WARC-Record-ID: <urn:uuid:7>\r\n";
        $bytes = $record('a', '').$record('b', '').$record('c', $same).$record('d', $same);
        $taken = self::service(Importer::class)->file($this->folder->file('old.warc', $bytes), new Actor('Tomas Okoye'));
        self::assertSame(4, $taken->captures);
        foreach (['a', 'b', 'c', 'd'] as $path) {
            $this->captureOf('http://lantern.test/'.$path);
        }
    }

    public function testOfALargeFileThePagesAreDescribedByWorkersPortionByPortion(): void
    {
        $warc = new WarcBuilder();
        for ($n = 0; $n < 130; ++$n) {
            // What cannot be packed makes the file large enough for a process of its own.
            $warc->exchange(
                'http://lantern.test/'.intdiv($n, 2),
                \sprintf('2024-11-03T10:00:%02dZ', $n % 2),
                "<title>Page {$n}</title><p>Water was measured {$n} times.<!--".bin2hex(random_bytes(25_000)).'-->',
                destination: 'document',
            );
        }
        $taken = $this->takeIn($warc);
        self::assertSame([260, 130], [$taken->records, $taken->captures]);
        self::assertSame(
            [130, 0, 65],
            [
                (int) self::text('SELECT COUNT(*) FROM capture'),
                (int) self::text('SELECT COUNT(*) FROM capture WHERE title IS NOT NULL'),
                (int) self::text('SELECT COUNT(*) FROM address'),
            ],
        );
        self::assertStringContainsString('not compared', $this->get('/address/'.$this->captureOf('http://lantern.test/7')->address->code));
        // What is in the queue is what the workers do.
        $describer = self::service(Describer::class);
        $transport = self::getContainer()->get('messenger.transport.work');
        self::assertInstanceOf(TransportInterface::class, $transport);
        $rounds = 0;
        for (; [] !== ($envelopes = [...$transport->get()]); ++$rounds) {
            $message = $envelopes[0]->getMessage();
            $transport->ack($envelopes[0]);
            if ($message instanceof CountWords || $message instanceof IndexFile) {
                --$rounds;
                continue;
            }
            self::assertInstanceOf(DescribeFile::class, $message);
            $describer->describeFile($message);
        }
        self::assertSame(3, $rounds);
        self::assertSame(
            [130, 65],
            [
                (int) self::text('SELECT COUNT(*) FROM capture WHERE title IS NOT NULL'),
                (int) self::text('SELECT COUNT(*) FROM capture WHERE changed > 0'),
            ],
        );
        self::assertSame('Page 15', $this->captureOf('http://lantern.test/7')->title);
    }

    public function testTheSameRecordsInAnotherFileGetCodesOfTheirOwn(): void
    {
        $warc = (new WarcBuilder())->exchange(
            'http://lantern.test/a', '2024-11-03T10:00:00Z', self::PAGE,
        )->exchange('http://lantern.test/b', '2024-11-03T10:00:01Z', self::PAGE);
        $this->takeIn($warc);
        $code = $this->captureOf('http://lantern.test/a')->code;
        $plain = implode(
            '',
            array_map(
                static fn (string $member): string => (string) gzdecode("\x1f\x8b\x08".$member),
                \array_slice(explode("\x1f\x8b\x08", $warc->bytes()), 1),
            ),
        );
        self::service(Importer::class)->file($this->folder->file('unpacked.warc', $plain), new Actor('Tomas Okoye'));
        self::assertSame(
            [2, 4, 1],
            [
                (int) self::text('SELECT COUNT(*) FROM address'),
                (int) self::text('SELECT COUNT(DISTINCT code) FROM capture'),
                (int) self::text("SELECT COUNT(*) FROM capture WHERE code = '{$code}'"),
            ],
        );
        self::assertSame(2, $this->captureOf('http://lantern.test/a')->address->captures);
    }

    public function testOddAddressesOfFilesDoNoHarm(): void
    {
        $long = 'http://lantern.test/'.str_repeat('a', 5_000);
        $this->takeIn((new WarcBuilder())->exchange($long, '2024-11-03T10:00:00Z', self::PAGE)->exchange(
            "http://lantern.test/\xff\xfe", '2024-11-03T10:00:01Z', self::PAGE,
        )->exchange('urn:x-odd:1', '2024-11-03T10:00:02Z', self::PAGE));
        self::assertSame('Stern door', $this->captureOf($long)->title);
        self::assertSame(3, (int) self::text('SELECT COUNT(*) FROM capture'));
    }

    private static function text(string $sql): string
    {
        $value = self::service(Connection::class)->fetchOne($sql);

        return \is_scalar($value) ? (string) $value : '';
    }
}
