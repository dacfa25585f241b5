<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Doctrine\DBAL\Connection;
use Symfony\Component\Console\Tester\CommandTester;
use Ypomna\App\Catalogue\CaptureLimits;
use Ypomna\App\Desk\Attachments;
use Ypomna\App\Desk\ItemRepository;
use Ypomna\App\Search\Console\SearchIndexCommand;
use Ypomna\App\Search\Engine;
use Ypomna\App\Search\FileWords;
use Ypomna\App\Search\Readings;
use Ypomna\App\Search\SpokenWords;
use Ypomna\App\Search\Texts;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Role;
use Ypomna\App\Shared\Viewer;
use Ypomna\Tests\Support\WarcBuilder;

/** Words that stand in pictures and files. */
final class ReadingTest extends ApiTestCase
{
    private const SCAN = __DIR__.'/../../demo/scan/inspection-2024-10-09.png';
    private const PAGE = 'http://board.test/inspections';
    private const PICTURE = 'http://board.test/scan.png';

    protected function setUp(): void
    {
        parent::setUp();
        self::service(Engine::class)->clear();
        self::service(Connection::class)->executeStatement('DELETE FROM search_reading');
    }

    public function testWordsInAPictureOfAPageAreFoundThere(): void
    {
        $html = '<html lang="en"><title>Inspections</title><p>What the board found in the autumn, as it was sent to all papers of the town.'
            .str_repeat(' It is told at length.', 20).'</p><img src="/scan.png"><p>Behind it.</p>';
        $this->takeIn((new WarcBuilder('scan'))->exchange(self::PAGE, '2024-10-20T10:00:00Z', $html)
            ->exchange(self::PICTURE, '2024-10-20T10:00:01Z', (string) file_get_contents(self::SCAN), 'image/png'));
        $said = $this->index();
        $found = $this->found('"forty centimetres"');
        self::assertSame([self::PAGE], array_column($found, 'url'));
        $page = array_column($found, null, 'url')[self::PAGE];
        self::assertIsArray($page['snippets']);
        self::assertIsArray($page['snippets'][0]);
        self::assertSame('seen', $page['snippets'][0]['means']);
        self::assertIsString($page['snippets'][0]['text']);
        self::assertStringContainsString('gap of about forty centimetres', $page['snippets'][0]['text']);
        self::assertIsString($page['open']);
        self::assertStringNotContainsString('passage=', $page['open'], 'The page has no such text to be marked.');
        self::assertSame('', $said);
        // Read once; taken in anew, it is known.
        self::service(Connection::class)->executeStatement(
            'UPDATE search_reading SET body = ?', [gzdeflate('Told by what was kept')],
        );
        self::service(Texts::class)->clear();
        self::service(Readings::class)->clear();
        $this->index();
        self::assertCount(0, $this->found('"forty centimetres"'));
        self::assertNotSame([], $this->found('"what was kept"'));
    }

    public function testAPictureOfACaptureThatIsForSomeOnlyIsFoundByNobodyElse(): void
    {
        // In one file of many pages: the page shows what was captured as a page of its own, too.
        $this->takeIn((new WarcBuilder('crawl'))
            ->exchange(self::PICTURE, '2024-10-20T10:00:01Z', (string) file_get_contents(self::SCAN), 'image/png', destination: 'document')
            ->exchange(self::PAGE, '2024-10-20T10:00:02Z', '<title>Open</title><p>What was found. <img src="/scan.png">',
                destination: 'document')
            ->exchange('http://board.test/', '2024-10-20T10:00:03Z', '<title>Another</title>', destination: 'document'));
        $this->index();
        $reader = $this->token('Nerys Quill', Role::Reader);
        $custodian = $this->token('Bram Hollis', Role::Custodian);
        self::assertCount(2, $this->found('"forty centimetres"', $reader));
        self::service(CaptureLimits::class)->say(new Actor('Ilse Varga'), $this->captureOf(self::PICTURE), true);
        self::assertSame([], $this->found('"forty centimetres"', $reader), 'From this moment on, before any worker comes.');
        $this->index();
        self::assertSame([], $this->found('"forty centimetres"', $reader));
        self::assertSame([self::PICTURE], array_column($this->found('"forty centimetres"', $custodian), 'url'));
        self::assertSame([self::PAGE], array_column($this->found('"what was found"', $reader), 'url'));
        self::service(CaptureLimits::class)->say(new Actor('Ilse Varga'), $this->captureOf(self::PICTURE), false);
        $this->index();
        self::assertNotSame([], $this->found('"forty centimetres"', $reader));
    }

    public function testFilesOfItemsAreFoundByWhatTheySay(): void
    {
        $mail = "From: =?utf-8?q?H=C3=A9l=C3=A8ne?= <helene@board.example>\r\nSubject: About the ramp\r\nMIME-Version: 1.0\r\n"
            ."Content-Type: multipart/alternative; boundary=b\r\n\r\n--b\r\nContent-Type: text/plain; charset=iso-8859-1\r\n"
            ."Content-Transfer-Encoding: quoted-printable\r\n\r\nThe hydraulics are l=E9zard green.\r\n--b\r\n"
            ."Content-Type: text/html\r\n\r\n<p>The hydraulics are twice here.</p>\r\n--b--\r\n";
        $scan = (string) file_get_contents(self::SCAN);
        $files = [
            'forty centimetres' => ['scan.png', 'image/png', $scan],
            '"second inspection"' => ['scan.pdf', 'application/pdf', self::pdf($scan)],
            'lezard helene' => ['ramp.eml', 'message/rfc822', $mail],
            'wagtail' => ['birds.txt', 'text/plain', "Seen from the pier:\n\na wagtail."],
            'oystercatcher' => ['birds.html', 'text/html', '<p>An <b>oystercatcher</b>'],
        ];
        $codes = [];
        foreach ($files as $asked => [$name, $type, $bytes]) {
            $codes[$asked] = $this->item($name, [$name => [$type, $bytes]]);
        }
        $this->index();
        foreach ($codes as $asked => $code) {
            self::assertContains($code, array_column($this->found($asked), 'code'), $asked);
        }
        self::assertCount(0, $this->found('"twice here"'), 'Of a message that says the same in two ways one is read.');
        self::assertSame([$codes['wagtail'] ?? ''], array_column($this->found('"birds txt"'), 'code'), 'Its name counts, too.');
    }

    public function testWhatCannotBeReadIsSaidAndStopsNothing(): void
    {
        $scan = (string) file_get_contents(self::SCAN);
        $huge = substr_replace($scan, pack('NN', 60_000, 60_000), 16, 8);
        $this->item('Damaged', [
            'cut.png' => ['image/png', substr($scan, 0, 9_000)], 'none.png' => ['image/png', 'no picture'],
            'huge.png' => ['image/png', $huge], 'none.pdf' => ['application/pdf', '%PDF-1.4 nothing'],
            'none.docx' => ['application/vnd.openxmlformats-officedocument.wordprocessingml.document', 'PK nothing'],
        ]);
        $this->item('Whole', ['scan.png' => ['image/png', $scan]]);
        $said = $this->index();
        self::assertStringContainsString('1 pictures or files are too large to be read.', $said);
        self::assertStringContainsString('are damaged: no words of theirs are found.', $said);
        self::assertCount(1, $this->found('"forty centimetres"'));
        self::assertGreaterThanOrEqual(2, self::service(Readings::class)->failures()['damaged']);
    }

    public function testARecordingIsHeardWhereThatIsInstalled(): void
    {
        $path = (string) tempnam(sys_get_temp_dir(), 'sound');
        file_put_contents($path, 'no sound');
        $reading = self::service(FileWords::class)->of($path, 'audio/webm; codecs=opus', null);
        unlink($path);
        // Nothing is kept of what nothing here can hear: once that is installed it is heard.
        self::assertSame(self::service(SpokenWords::class)->isThere() ? 'damaged' : null, $reading?->failure);
    }

    public function testWhatOnlyLooksLikeAPictureOrARecordingReadsNoOtherFile(): void
    {
        $folder = sys_get_temp_dir();
        $other = (string) tempnam($folder, 'other');
        copy(self::SCAN, $other);
        // PHP takes it for a picture, Tesseract for a list of pictures.
        $list = "GIF1\n\n".pack('vv', 600, 600)."\n".$other."\n".str_repeat("\n", 200);
        $path = (string) tempnam($folder, 'list');
        file_put_contents($path, $list);
        $reading = self::service(FileWords::class)->of($path, 'image/gif', 'en');
        self::assertSame([], $reading?->paragraphs);
        // A list of sounds leads to other files of this machine.
        file_put_contents($path, "#EXTM3U\n#EXTINF:10,\nfile://".$other."\n#EXT-X-ENDLIST\n");
        self::assertSame([], (new SpokenWords())->heard($path)->paragraphs);
        self::assertSame('damaged', (new SpokenWords())->heard($path)->failure);
        unlink($path);
        unlink($other);
    }

    public function testSmallPicturesAreNotLookedAt(): void
    {
        $path = (string) tempnam(sys_get_temp_dir(), 'small');
        $picture = imagecreatetruecolor(90, 90);
        imagepng($picture, $path);
        $reading = self::service(FileWords::class)->of($path, 'image/png', null);
        unlink($path);
        self::assertNotNull($reading);
        self::assertSame([[], ''], [$reading->paragraphs, $reading->failure]);
    }

    /** @param array<string, array{string, string}> $files type and bytes, by name */
    private function item(string $title, array $files): string
    {
        $made = $this->ask('POST', '/api/items', $this->keeper, ['kind' => 'file', 'title' => $title], 201);
        $item = self::service(ItemRepository::class)->byCode(Viewer::system(), self::text($made, 'code'));
        self::assertNotNull($item);
        foreach ($files as $name => [$type, $bytes]) {
            $path = (string) tempnam(sys_get_temp_dir(), 'file');
            file_put_contents($path, $bytes);
            self::service(Attachments::class)->add(new Actor('Ilse Varga'), $item, $path, $name, $type);
        }

        return $item->code;
    }

    /** A page on which nothing stands but a picture. */
    private static function pdf(string $png): string
    {
        $picture = imagecreatefromstring($png);
        self::assertNotFalse($picture);
        ob_start();
        imagejpeg($picture, null, 80);
        $jpeg = (string) ob_get_clean();
        $content = 'q 595 0 0 842 0 0 cm /P Do Q';
        $objects = [
            '<< /Type /Catalog /Pages 2 0 R >>', '<< /Type /Pages /Kids [3 0 R] /Count 1 >>',
            '<< /Type /Page /Parent 2 0 R /MediaBox [0 0 595 842] /Contents 4 0 R /Resources << /XObject << /P 5 0 R >> >> >>',
            '<< /Length '.\strlen($content).">>\nstream\n".$content."\nendstream",
            '<< /Type /XObject /Subtype /Image /Width '.imagesx($picture).' /Height '.imagesy($picture)
                .' /ColorSpace /DeviceRGB /BitsPerComponent 8 /Filter /DCTDecode /Length'
                    .' '.\strlen($jpeg).">>\nstream\n".$jpeg."\nendstream",
        ];
        $pdf = "%PDF-1.4\n";
        $places = [];
        foreach ($objects as $n => $object) {
            $places[] = \strlen($pdf);
            $pdf .= ($n + 1)." 0 obj\n".$object."\nendobj\n";
        }
        $at = \strlen($pdf);
        $pdf .= "xref\n0 6\n0000000000 65535 f \n".implode('', array_map(
            static fn (int $place): string => \sprintf("%010d 00000 n \n", $place), $places,
        ));

        return $pdf."trailer\n<< /Size 6 /Root 1 0 R >>\nstartxref\n".$at."\n%%EOF\n";
    }

    /** @return list<array<string, mixed>> */
    private function found(string $asked, ?string $token = null): array
    {
        $said = $this->ask('GET', '/api/find?'.http_build_query(['q' => $asked]), $token ?? $this->keeper);
        self::assertIsArray($said['items']);
        /** @var list<array<string, mixed>> $items */
        $items = $said['items'];

        return $items;
    }

    private function index(): string
    {
        $tester = new CommandTester(self::service(SearchIndexCommand::class));
        self::assertSame(0, $tester->execute(['--wait' => true]));

        return $tester->getDisplay();
    }
}
