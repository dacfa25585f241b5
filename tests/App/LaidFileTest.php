<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Ypomna\App\Exchange\Arrivals;
use Ypomna\App\Exchange\LaidFiles;
use Ypomna\App\Exchange\Message\ImportFile;
use Ypomna\App\Shared\DataFolder;
use Ypomna\App\Shared\Role;
use Ypomna\App\Shared\Viewer;
use Ypomna\Tests\Support\WarcBuilder;

/** What is laid into a watched folder is taken in and moved aside, with a report. */
final class LaidFileTest extends AppTestCase
{
    private string $place;

    protected function setUp(): void
    {
        parent::setUp();
        $this->person('Ilse Varga', Role::Keeper);
        $this->person('Nerys Quill', Role::Reader);
        $this->place = $this->folderOf('Ilse Varga');
    }

    public function testItIsTakenInForWhoeverTheFolderIsCalledAfter(): void
    {
        $bytes = (new WarcBuilder('laid'))->exchange('http://lantern.test/laid', '2024-11-03T10:00:00Z', '<p>laid')->bytes();
        $this->lay($this->place, 'pages.warc.gz', $bytes);
        $this->lay($this->place, 'nothing.bin', "\x00\x01\x02");
        // Still being written.
        file_put_contents($this->place.'/now.warc.gz', 'half');
        $files = self::service(LaidFiles::class);
        $files->look();
        self::assertFileExists($this->place.'/now.warc.gz');
        self::assertFileDoesNotExist($this->place.'/pages.warc.gz');
        $this->work();
        $files->look();
        self::assertSame('Ilse Varga', 'taken-in' === $this->captureOf('http://lantern.test/laid')->warcFile->origin ? 'Ilse Varga' : '');
        self::assertFileExists($this->place.'/taken/pages.warc.gz');
        self::assertFileExists($this->place.'/not taken/nothing.bin');
        $report = (string) file_get_contents($this->place.'/report.txt');
        self::assertMatchesRegularExpression('~^\d{4}-\S+Z pages\.warc\.gz: .*http\S+$~m', $report);
        self::assertMatchesRegularExpression('~^\d{4}-\S+Z nothing\.bin: ~m', $report);
        $files->look();
        self::assertSame($report, (string) file_get_contents($this->place.'/report.txt'), 'It is told once.');
        // What is called as one that is there already does not take its place.
        $this->lay($this->place, 'pages.warc.gz', $bytes);
        $files->look();
        self::assertFileExists($this->place.'/taken/pages 2.warc.gz');
    }

    public function testNobodyElsesFolderIsLookedAt(): void
    {
        $elsewhere = $this->folder->file('secret.warc.gz', 'secret');
        touch($elsewhere, time() - 60);
        symlink($elsewhere, $this->place.'/link.warc.gz');
        foreach (['Nerys Quill', 'Nobody'] as $name) {
            $this->lay($this->folderOf($name), 'a.warc.gz', 'x');
        }
        symlink($this->folderOf('Nobody'), \dirname($this->place).'/Someone Else');
        $this->person('Someone Else', Role::Keeper);
        self::service(LaidFiles::class)->look();
        self::assertSame([], self::service(Arrivals::class)->latest(Viewer::system()));
        self::assertFileExists($this->folderOf('Nobody').'/a.warc.gz');
        self::assertSame('secret', file_get_contents($elsewhere));
    }

    private function folderOf(string $name): string
    {
        $folder = self::service(DataFolder::class)->laid().'/'.$name;
        @mkdir($folder, 0o700, true);

        return $folder;
    }

    private function lay(string $place, string $name, string $bytes): void
    {
        file_put_contents($place.'/'.$name, $bytes);
        touch($place.'/'.$name, time() - 60);
    }

    private function work(): void
    {
        $arrivals = self::service(Arrivals::class);
        foreach ($arrivals->latest(Viewer::system()) as $arrival) {
            $arrivals->handle(new ImportFile((int) $arrival->id));
        }
    }
}
