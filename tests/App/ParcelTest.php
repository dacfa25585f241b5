<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Symfony\Component\DomCrawler\Field\ChoiceFormField;
use Symfony\Component\Filesystem\Filesystem;
use Ypomna\App\Catalogue\Entity\WarcFile;
use Ypomna\App\Catalogue\Indexer;
use Ypomna\App\Exchange\Entity\Parcel;
use Ypomna\App\Exchange\ExportBuilder;
use Ypomna\App\Exchange\ExportFailed;
use Ypomna\App\Exchange\Importer;
use Ypomna\App\Exchange\Message\BuildParcel;
use Ypomna\App\Exchange\Parcels;
use Ypomna\App\Exchange\Value\ParcelContents;
use Ypomna\App\Exchange\Value\ParcelOptions;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Settings;
use Ypomna\App\Shared\Viewer;
use Ypomna\App\Store\MirroredLedger;
use Ypomna\Core\Mhtml\MhtmlCheck;
use Ypomna\Core\Mhtml\MhtmlReader;
use Ypomna\Core\Warc\WarcCheck;
use Ypomna\Core\Warc\WarcReader;
use Ypomna\Tests\Support\WarcBuilder;

/** Captures put together and given out. */
final class ParcelTest extends AppTestCase
{
    private const LOGO = 'the logo, long enough to be worth keeping once';

    protected function setUp(): void
    {
        parent::setUp();
        (new Filesystem())->remove(Settings::dataFolder().'/given-out');
        $digest = [
            'WARC-Payload-Digest' => 'sha256:'.hash('sha256', self::LOGO),
            'WARC-Refers-To-Target-URI' => 'http://lantern.test/logo.png',
            'WARC-Refers-To-Date' => '2024-11-03T10:00:01Z',
        ];
        $this->own(
            'one',
            (new WarcBuilder('one'))->exchange(
                'http://lantern.test/a',
                '2024-11-03T10:00:00Z',
                '<title>First</title><img src="logo.png"><p>early',
                destination: 'document',
            )->exchange('http://lantern.test/logo.png', '2024-11-03T10:00:01Z', self::LOGO, 'image/png', destination: 'image'),
        );
        $this->own('two', (new WarcBuilder('two'))->exchange(
            'http://lantern.test/a',
            '2024-12-03T10:00:00Z',
            '<title>Second</title><img src="logo.png"><img src="new.png"><p>late',
            destination: 'document',
        )
            ->revisit(
                'http://lantern.test/logo.png', '2024-12-03T10:00:01Z', $digest, "HTTP/1.1 200 OK\r\nContent-Type: image/png\r\n\r\n",
            )->exchange('http://lantern.test/new.png', '2024-12-03T10:00:02Z', 'new', 'image/png', destination: 'image'));
    }

    public function testACaptureComesWithWhatItRefersToAndAManifestThatHolds(): void
    {
        $contents = $this->put(new ParcelOptions([$this->captureOf('http://lantern.test/a')->code], [], false));
        self::assertSame([1, []], [$contents->captures, $contents->leftOut]);
        self::assertSame(['captures-00001.warc.gz', 'manifest-sha256.txt'], array_column($contents->files, 'name'));
        $this->manifestHolds();
        self::assertSame(
            [
                'warcinfo ', 'request http://lantern.test/a', 'response http://lantern.test/a', 'revisit http://lantern.test/logo.png',
                'request http://lantern.test/new.png', 'response http://lantern.test/new.png', 'response http://lantern.test/logo.png',
            ],
            $this->records('captures-00001.warc.gz'),
        );
    }

    public function testFilesRollOverAtTheSizeThatIsWanted(): void
    {
        $address = $this->captureOf('http://lantern.test/a')->address->code;
        $contents = $this->put(new ParcelOptions([], [$address], false), 100);
        self::assertSame(
            [2, ['captures-00001.warc.gz', 'captures-00002.warc.gz', 'manifest-sha256.txt']],
            [$contents->captures, array_column($contents->files, 'name')],
        );
        $this->manifestHolds();
        self::assertCount(5, $this->records('captures-00001.warc.gz'));
        // The original lies in the first file already.
        self::assertCount(6, $this->records('captures-00002.warc.gz'));
    }

    public function testOfACrawlComesWhatThePageAsksFor(): void
    {
        $crawl = new WarcBuilder('crawl');
        $crawl->exchange(
            'http://net.example/page',
            '2025-01-01T00:00:00Z',
            '<link rel="stylesheet" href="/s.css"><img src="x.png"><iframe src="frame"></iframe>',
            destination: 'document',
        )
            ->exchange('http://net.example/other', '2025-01-01T00:00:01Z', '<p>another page', destination: 'document')->exchange(
                'http://net.example/s.css', '2025-01-01T00:00:02Z', 'a{background:url(deep.png)}', 'text/css', destination: 'style',
            )
            ->exchange(
                'http://net.example/deep.png', '2025-01-01T00:00:03Z', 'deep', 'image/png', destination: 'image',
            )->exchange('http://net.example/x.png', '2025-01-01T00:00:04Z', 'x', 'image/png', destination: 'image')
            ->exchange('http://net.example/frame', '2025-01-01T00:00:05Z', '<p>framed', destination: 'iframe')->exchange(
                'http://net.example/unrelated.png', '2025-01-01T00:00:06Z', 'no', 'image/png', destination: 'image',
            );
        $this->takeIn($crawl);
        $code = $this->captureOf('http://net.example/page')->code;
        $this->put(new ParcelOptions([$code], [], false));
        $expected = ['warcinfo '];
        foreach (['page', 's.css', 'x.png', 'frame', 'deep.png'] as $part) {
            array_push($expected, 'request http://net.example/'.$part, 'response http://net.example/'.$part);
        }
        self::assertEqualsCanonicalizing($expected, $this->records('captures-00001.warc.gz'));
        $page = $this->get('/c/'.$code.'/parts');
        self::assertStringContainsString('deep.png', $page);
        self::assertStringNotContainsString('unrelated.png', $page);
        $mhtml = $this->get('/c/'.$code.'/mhtml');
        self::assertStringContainsString('Content-Location: http://net.example/deep.png', $mhtml);
        self::assertStringNotContainsString('unrelated', $mhtml);
    }

    public function testFilesOfOthersAreRepackedAndWhatIsDamagedIsNamed(): void
    {
        $bytes = (new WarcBuilder('plain'))->exchange('http://net.example/1', '2025-01-01T00:00:00Z', '<p>one')->bytes();
        $plain = implode(
            '',
            array_map(
                static fn (string $member): string => (string) gzdecode("\x1f\x8b\x08".$member),
                \array_slice(explode("\x1f\x8b\x08", $bytes), 1),
            ),
        );
        $damaged = (new WarcBuilder('damaged'))->exchange('http://net.example/3', '2025-01-01T00:00:02Z', '<p>three')->bytes();
        $at = (int) strrpos($damaged, "\x1f\x8b\x08") + 60;
        $damaged[$at] = \chr(\ord($damaged[$at]) ^ 0xFF);
        foreach ([
            'plain.warc' => $plain,
            'whole.warc.gz' => (string) gzencode(str_replace('net.example/1', 'net.example/2', $plain)),
            'damaged.warc.gz' => $damaged,
        ] as $name => $file) {
            self::service(Importer::class)->file($this->folder->file($name, $file), new Actor('Tomas Okoye'));
        }
        $codes = array_map(fn (int $n): string => $this->captureOf('http://net.example/'.$n)->code, [1, 2]);
        $contents = $this->put(new ParcelOptions($codes, [], false));
        self::assertSame([], $contents->leftOut);
        self::assertSame(
            [
                'warcinfo ',
                'request http://net.example/1',
                'response http://net.example/1',
                'request http://net.example/2',
                'response http://net.example/2',
            ],
            $this->records('captures-00001.warc.gz'),
        );
        // Of everything, what came from outside is given as it came.
        $all = $this->put(new ParcelOptions([], [], true));
        $names = implode(' ', array_column($all->files, 'name'));
        self::assertStringContainsString(
            'taken-in/'.substr(hash('sha256', $damaged), 0, 2).'/'.hash('sha256', $damaged).'.warc.gz', $names,
        );
        self::assertStringContainsString('ledger.txt', $names);
        $this->manifestHolds();
        self::assertCount(5 + 5, $this->records('captures-00001.warc.gz'));
    }

    public function testSeveralPagesStandInOneMhtmlEachWithItsOwnParts(): void
    {
        $address = $this->captureOf('http://lantern.test/a')->address->code;
        $contents = $this->put(new ParcelOptions([], [$address], false, ParcelOptions::MHTML));
        self::assertSame(['pages.mhtml', 'manifest-sha256.txt'], array_column($contents->files, 'name'));
        $path = $this->folder->path.'/out/pages.mhtml';
        self::assertSame([], MhtmlCheck::run(MhtmlReader::read($path)));
        $mhtml = (string) file_get_contents($path);
        self::assertStringContainsString('2 captured pages', $mhtml);
        // The logo is the same in both and stands there once.
        self::assertSame(1, substr_count($mhtml, 'Content-Location: http://lantern.test/logo.png'));
        self::assertSame(2, substr_count($mhtml, 'Content-Location: http://lantern.test/a'));
    }

    public function testAPageThatCannotBeReadIsLeftOutOfTheMhtmlAndNamed(): void
    {
        $missing = (new WarcBuilder('lost'))->revisit(
            'http://lantern.test/lost', '2025-02-01T00:00:00Z', ['WARC-Payload-Digest' => 'sha256:'.hash('sha256', 'never held')],
        );
        $this->takeIn($missing);
        $codes = [$this->captureOf('http://lantern.test/a')->code, $this->captureOf('http://lantern.test/lost')->code];
        $contents = $this->put(new ParcelOptions($codes, [], false, ParcelOptions::MHTML));
        self::assertSame([1, 1], [$contents->captures, \count($contents->leftOut)]);
        self::assertStringContainsString('that is not held', $contents->leftOut[0]);
        $this->expectExceptionMessage('exchange.none_can_be_read');
        $this->put(new ParcelOptions([$codes[1]], [], false, ParcelOptions::MHTML));
    }

    public function testAPartThatSwellsWithoutEndIsLeftOutAndNamed(): void
    {
        $packed = '';
        $deflating = deflate_init(\ZLIB_ENCODING_GZIP, ['level' => 9]);
        self::assertNotFalse($deflating);
        for ($n = 0; $n < 200; ++$n) {
            $packed .= deflate_add($deflating, str_repeat("\0", 1_048_576), \ZLIB_NO_FLUSH);
        }
        $packed .= deflate_add($deflating, '', \ZLIB_FINISH);
        $this->takeIn((new WarcBuilder('bomb'))->exchange(
            'http://net.example/swells',
            '2025-03-01T00:00:00Z',
            '<title>Swells</title><img src="bomb.png"><p>the page itself',
            destination: 'document',
        )
            ->exchange(
                'http://net.example/bomb.png', '2025-03-01T00:00:01Z', (string) gzencode($packed, 9), 'image/png',
                fields: ['Content-Encoding: gzip, gzip'], destination: 'image',
            ));
        $code = $this->captureOf('http://net.example/swells')->code;
        $contents = $this->put(new ParcelOptions([$code], [], false, ParcelOptions::MHTML));
        self::assertSame(1, $contents->captures);
        self::assertStringContainsString('bomb.png', implode("\n", $contents->leftOut));
        $bytes = array_sum(array_map(fn (array $file): int => (int) filesize($this->folder->path.'/out/'.$file['name']), $contents->files));
        self::assertLessThan(100_000, $bytes);
        self::assertStringContainsString(
            'the page itself', quoted_printable_decode((string) file_get_contents($this->folder->path.'/out/'.$contents->files[0]['name'])),
        );
        // As it was stored it is given out whole: that is small.
        self::assertSame([1, []], [($contents = $this->put(new ParcelOptions([$code], [], false)))->captures, $contents->leftOut]);
    }

    public function testAPrintIsAskedForByAFormAndMadeByAWorker(): void
    {
        [$code, $other] = [$this->captureOf('http://lantern.test/a')->code, $this->captureOf('http://lantern.test/a', '2024-11-03')->code];
        foreach (["/c/{$code}/pdf", "/compare/{$code}/{$other}/report.pdf"] as $path) {
            $this->get($path);
            self::assertSame(404, $this->answered(), $path);
            $this->client->request('POST', $path, ['_token' => 'guessed']);
            self::assertSame(403, $this->answered(), $path);
        }
        self::assertSame([], self::made(Parcel::class));
        $token = $this->client->request('GET', '/c/'.$code)->filter('form[action$="/pdf"] input[name=_token]')->attr('value');
        foreach (["/c/{$code}/pdf", "/compare/{$code}/{$other}/report.pdf"] as $path) {
            $this->client->request('POST', $path, ['_token' => $token]);
            self::assertSame(303, $this->answered(), $path);
            self::assertMatchesRegularExpression('#^/export/[2-9a-z]{12}$#', $this->header('Location'));
        }
        $this->client->request('POST', '/c/222222222222/pdf', ['_token' => $token]);
        self::assertSame(404, $this->answered());
    }

    public function testNoMoreWaitThanWorkersCanDo(): void
    {
        $code = $this->captureOf('http://lantern.test/a')->code;
        $desk = self::service(Parcels::class);
        $asked = 0;
        try {
            for (; $asked < 500; ++$asked) {
                $desk->ask(Viewer::system(), new ParcelOptions([$code], [], false, ParcelOptions::PDF));
            }
        } catch (ExportFailed $e) {
            self::assertSame(['exchange.exports_are_waiting', ['most' => 40]], [$e->key, $e->values]);
        }
        self::assertSame(40, $asked);
        $token = $this->client->request('GET', '/c/'.$code)->filter('form[action$="/pdf"] input[name=_token]')->attr('value');
        $this->client->request('POST', "/c/{$code}/pdf", ['_token' => $token]);
        self::assertSame([429, '30'], [$this->answered(), $this->header('Retry-After')]);
    }

    public function testABusyAddressComesWhole(): void
    {
        $warc = new WarcBuilder('busy');
        for ($n = 0; $n < 450; ++$n) {
            $warc->exchange(
                'http://lantern.test/busy',
                \sprintf('2024-05-01T%02d:%02d:%02dZ', intdiv($n, 3_600), intdiv($n, 60) % 60, $n % 60),
                '<p>'.$n,
                destination: 'document',
            );
        }
        $this->own('busy', $warc);
        self::assertSame(
            450, $this->put(new ParcelOptions([], [$this->captureOf('http://lantern.test/busy')->address->code], false))->captures,
        );
        self::assertCount(901, $this->records('captures-00001.warc.gz'), 'The file that holds them all is in once.');
    }

    public function testWhatCannotBeGivenSaysWhy(): void
    {
        foreach ([
            ['nothing', new ParcelOptions([], [], false)], ['None of what', new ParcelOptions(['2222222222aa'], [], false)],
        ] as [$why, $wish]) {
            try {
                $this->put($wish);
                self::fail($why);
            } catch (ExportFailed $e) {
                self::assertSame('exchange.none_is_held', $e->key);
            }
        }
        $this->folder->file('out/x', 'there already');
        $this->expectExceptionMessage('exchange.folder_is_not_empty');
        self::service(ExportBuilder::class)->put(
            Viewer::system(), new ParcelOptions([], [], true), $this->folder->path.'/out', static function (): void {},
        );
    }

    public function testAParcelIsAskedForFetchedAndRemoved(): void
    {
        $capture = $this->captureOf('http://lantern.test/a');
        $crawler = $this->client->request('GET', '/export?address='.$capture->address->code.'&c[]='.$capture->code);
        self::assertStringContainsString('The captures that you ticked', $this->body());
        $form = $crawler->selectButton('Export')->form();
        self::assertInstanceOf(ChoiceFormField::class, $form['format']);
        $this->client->submit($form);
        $where = $this->header('Location');
        self::assertMatchesRegularExpression('#^/export/[2-9a-z]{12}$#', $where);
        self::assertStringContainsString('The export is being written', $this->get($where));
        $desk = self::service(Parcels::class);
        $parcel = $desk->byCode(Viewer::system(), basename($where));
        self::assertNotNull($parcel);
        $desk->putTogether(new BuildParcel((int) $parcel->id));
        $page = $this->get($where);
        self::assertStringContainsString('captures-00001.warc.gz', $page);
        $this->get($where.'/progress');
        self::assertSame(286, $this->answered());
        $this->client->request('GET', $where.'/file/captures-00001.warc.gz');
        self::assertSame(200, $this->answered());
        self::assertStringContainsString('attachment', $this->header('Content-Disposition'));
        foreach (['../../ypomna.env', '..%2f..%2fypomna.env', 'other'] as $name) {
            $this->client->request('GET', $where.'/file/'.$name);
            self::assertSame(404, $this->answered(), $name);
        }
        $this->client->request('POST', $where.'/remove', ['_token' => 'guessed']);
        self::assertSame(403, $this->answered());
        $this->client->submit($this->client->request('GET', $where)->selectButton('Remove')->form());
        self::assertSame('/export', $this->header('Location'));
        self::assertDirectoryDoesNotExist(Settings::dataFolder().'/given-out/'.basename($where));
        $this->client->request('GET', $where);
        self::assertSame(404, $this->answered());
        $this->client->submit($this->client->request('GET', '/export')->selectButton('Export all holdings')->form());
        self::assertSame(303, $this->answered());
        $this->client->request('POST', '/export', ['_token' => 'guessed', 'everything' => '1']);
        self::assertSame(403, $this->answered());
    }

    public function testPartsAreHadOneByOne(): void
    {
        $code = $this->captureOf('http://lantern.test/a')->code;
        self::assertStringContainsString('new.png', $this->get('/c/'.$code.'/parts'));
        self::assertSame(self::LOGO, $this->get('/c/'.$code.'/parts/1/file'), 'A revisit gives what it refers to.');
        self::assertStringContainsString('logo.png', $this->header('Content-Disposition'));
        $part = $this->get('/c/'.$code.'/parts/1/warc');
        mkdir($this->folder->path.'/out');
        $this->folder->file('out/part.warc.gz', $part);
        self::assertSame(
            ['warcinfo ', 'revisit http://lantern.test/logo.png', 'response http://lantern.test/logo.png'], $this->records('part.warc.gz'),
        );
        $this->get('/c/'.$code.'/parts/99/file');
        self::assertSame(404, $this->answered());
    }

    /** A capture of one's own, as a worker leaves it. */
    private function own(string $name, WarcBuilder $warc): void
    {
        $path = Settings::dataFolder().'/store/own/'.$name.'.warc.gz';
        (new Filesystem())->dumpFile($path, $warc->bytes());
        $sha256 = hash('sha256', $warc->bytes());
        $line = self::service(MirroredLedger::class)->once('capture.kept', 'own/'.$name.'.warc.gz', ['sha256' => $sha256]);
        self::service(Indexer::class)->enter('own/'.$name.'.warc.gz', $sha256, WarcFile::OWN, $name, $line->at);
    }

    private function put(ParcelOptions $wish, ?int $roll = null): ParcelContents
    {
        (new Filesystem())->remove($this->folder->path.'/out');

        return self::service(ExportBuilder::class)->put(
            Viewer::system(), $wish, $this->folder->path.'/out', static function (): void {}, $roll,
        );
    }

    private function manifestHolds(): void
    {
        exec('cd '.escapeshellarg($this->folder->path.'/out').' && sha256sum --strict -c manifest-sha256.txt 2>&1', $said, $status);
        self::assertSame(0, $status, implode("\n", $said));
    }

    /**
     * @return list<string> type and address
     */
    private function records(string $name): array
    {
        $path = $this->folder->path.'/out/'.$name;
        self::assertSame([], WarcCheck::run($path)->findings);
        exec('gzip -t '.escapeshellarg($path).' 2>&1', $said, $status);
        self::assertSame(0, $status, implode("\n", $said));
        $records = [];
        foreach (WarcReader::open($path)->records() as $record) {
            $records[] = $record->header->type().' '.$record->header->uri();
        }

        return $records;
    }
}
