<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Symfony\Contracts\Translation\TranslatorInterface;
use Ypomna\App\Exchange\CatalogueRebuilder;
use Ypomna\App\Exchange\Importer;
use Ypomna\App\Exchange\UnusableFile;
use Ypomna\App\Exchange\Value\ImportResult;
use Ypomna\App\Exchange\Verifier;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Settings;
use Ypomna\App\Store\Conversion;
use Ypomna\App\Store\Value\FileKind;
use Ypomna\Core\Warc\WarcCheck;

/** Files that people have: MHTML and mail, saved HTML with its folder, PDF, pictures. */
final class ImportTest extends AppTestCase
{
    private const MHTML = "From: <Saved by a browser>\r\nSnapshot-Content-Location: http://lantern.test/held\r\nSubject:"
        ." =?utf-8?Q?F=C3=A4hre?=\r\nDate: Mon, 11 Nov 2024 19:00:00 +0100\r\nMIME-Version: 1.0\r\nContent-Type: multipart/related;"
        ." boundary=\"b\"\r\n\r\n"
        ."--b\r\nContent-Type: text/html; charset=\"utf-8\"\r\nContent-Transfer-Encoding: quoted-printable\r\nContent-Location:"
        ." http://lantern.test/held\r\n\r\n<title>x</title><p>40 centimetres of water=\r\n<img"
        ." src=3D\"http://cdn.lantern.test/x.png\"><iframe src=3D\"cid:frame-1@x\"></iframe>\r\n"
        ."--b\r\nContent-Type: text/html\r\nContent-ID: <frame-1@x>\r\n\r\n<p>in the frame\r\n"
        ."--b\r\nContent-Type: image/png\r\nContent-Transfer-Encoding: base64\r\nContent-Location:"
        ." http://cdn.lantern.test/x.png\r\n\r\nUE5H\r\n--b--\r\n";

    public function testAnMhtmlFileIsReadLikeACapture(): void
    {
        $taken = $this->give('old.mht', self::MHTML);
        self::assertSame([1, false, []], [$taken->captures, $taken->known, $taken->findings]);
        $capture = $this->captureOf('http://lantern.test/held');
        self::assertSame(
            ['Fähre', '2024-11-11T18:00:00', 'taken-in'],
            [$capture->title, $capture->capturedAt->format('Y-m-d\TH:i:s'), $capture->warcFile->origin],
        );
        $html = $this->page('http://lantern.test/held', $capture->code);
        self::assertStringContainsString('40 centimetres of water', $html);
        self::assertSame(
            1,
            preg_match(
                '#<iframe src="http://'.$this->label($capture->code)
                    .'ah-([0-9a-f]{12}-taken--in-invalid)\.localhost:8020(/part-1\.html)"#',
                $html,
                $m,
            ),
        );
        $host = strtr(str_replace('--', '_', $m[1] ?? ''), '-_', '.-');
        self::assertStringContainsString('in the frame', $this->page('http://'.$host.($m[2] ?? ''), $capture->code));
        self::assertSame('PNG', $this->page('http://cdn.lantern.test/x.png', $capture->code, '', 'image'));
        self::assertStringContainsString('imported', $this->get('/address/'.$capture->address->code));

        $original = Settings::dataFolder().'/store/taken-in/'.substr($taken->sha256, 0, 2).'/'.$taken->sha256.'.mhtml';
        self::assertSame(self::MHTML, file_get_contents($original));
        $converted = substr($original, 0, -6).'.converted.warc.gz';
        self::assertTrue(WarcCheck::run($converted)->valid);
        self::assertTrue($this->give('again.mht', self::MHTML)->known);
        self::assertSame([], $this->verify());

        // What was made from it is made the same again.
        self::service(Conversion::class)->toWarc(
            FileKind::Mhtml, $original, 'old.mht', $taken->sha256, new \DateTimeImmutable('2030-01-01'),
            $this->folder->path.'/again.warc.gz',
        );
        self::assertFileEquals($converted, $this->folder->path.'/again.warc.gz');
        self::assertSame(1, self::service(CatalogueRebuilder::class)->run(static function (): void {}));
        self::assertSame($capture->code, $this->captureOf('http://lantern.test/held')->code);
    }

    public function testAnAlteredOriginalIsNamed(): void
    {
        $sha256 = $this->give('old.mht', self::MHTML)->sha256;
        $path = 'taken-in/'.substr($sha256, 0, 2).'/'.$sha256.'.mhtml';
        chmod(Settings::dataFolder().'/store/'.$path, 0o644);
        file_put_contents(Settings::dataFolder().'/store/'.$path, 'other');
        self::assertSame([$path], $this->verify());
        unlink(Settings::dataFolder().'/store/'.$path);
        self::assertSame([$path], $this->verify());
    }

    public function testADocumentComesWithWhatLiesBesideItAndNothingElse(): void
    {
        mkdir($this->folder->path.'/saved');
        mkdir($this->folder->path.'/saved/page_files');
        $this->folder->file('secret.txt', 'secret');
        $this->folder->file('saved/page_files/a b.css', 'p{color:red}');
        symlink($this->folder->path.'/secret.txt', $this->folder->path.'/saved/page_files/link.png');
        $taken = $this->give(
            'saved/page.html',
            '<!doctype html><!-- saved from url=(0025)http://lantern.test/2024/x --><title>Saved</title><link rel="stylesheet"'
                .' href="page_files/a%20b.css"><img src="../secret.txt"><img src="page_files/link.png"><img src="/etc/passwd"><img'
                    .' src="page_files/%00">',
        );
        self::assertSame(1, $taken->captures);
        $capture = $this->captureOf('http://lantern.test/2024/x');
        self::assertSame('Saved', $capture->title);
        self::assertSame('p{color:red}', $this->page('http://lantern.test/2024/page_files/a%20b.css', $capture->code, '', 'style'));
        foreach ([
            'http://lantern.test/secret.txt', 'http://lantern.test/2024/page_files/link.png', 'http://lantern.test/etc/passwd',
        ] as $url) {
            self::assertSame('', $this->page($url, $capture->code, '', 'image'), $url);
        }
    }

    public function testPdfPicturesAndMail(): void
    {
        $png = (string) base64_decode(
            'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==', true,
        );
        foreach ([['sheet.pdf', "%PDF-1.4\nx", 'application/pdf'], ['berth.png', $png, 'image/png']] as [$name, $bytes, $type]) {
            $taken = $this->give($name, $bytes);
            $url = 'http://'.substr($taken->sha256, 0, 12).'.taken-in.invalid/'.$name;
            $capture = $this->captureOf($url);
            self::assertSame([$type, $name], [$capture->mime, $capture->title]);
            self::assertSame($bytes, $this->page($url, $capture->code));
        }
        $taken = $this->give(
            'letter.eml',
            "From: Ilse <i@watch.example>\r\nSubject: The log\r\nDate: Tue, 12 Nov 2024 08:00:00 GMT\r\nMIME-Version:"
                ." 1.0\r\nContent-Type: multipart/alternative; boundary=a\r\n\r\n--a\r\n\r\nplain\r\n--a\r\nContent-Type:"
                    ." text/html\r\n\r\n<p>rich\r\n--a--\r\n",
        );
        $capture = $this->captureOf('http://'.substr($taken->sha256, 0, 12).'.taken-in.invalid/part-1.html');
        self::assertSame(['The log', '2024-11-12'], [$capture->title, $capture->capturedAt->format('Y-m-d')]);
        self::assertSame([], $this->verify());
    }

    public function testWhatIsNothingOfTheKindIsRefusedAndLeavesNothing(): void
    {
        foreach ([
            'notes.txt' => "just notes\nand more", 'data.bin' => "\0\1\2\3", 'empty' => '', 'archive.tar.gz' => (string) gzencode('x'),
        ] as $name => $bytes) {
            try {
                $this->give($name, $bytes);
                self::fail($name.' was taken in.');
            } catch (UnusableFile $e) {
                self::assertStringContainsString($name.' is not a WARC file', $e->trans(self::service(TranslatorInterface::class)));
            }
        }
        self::assertSame([], glob(Settings::dataFolder().'/store/*'));
        self::assertSame([], glob(Settings::dataFolder().'/store/.incoming/*'));
    }

    private function give(string $name, string $bytes): ImportResult
    {
        $path = $this->folder->file($name, $bytes);
        touch($path, 1_700_000_000);

        return self::service(Importer::class)->file($path, new Actor('Tomas Okoye'));
    }

    /**
     * @return list<string> where something was found
     */
    private function verify(): array
    {
        $verifier = self::service(Verifier::class);
        $verification = $verifier->begin(new Actor('Tomas Okoye'));
        $verifier->run($verification);

        return array_column($verification->findings, 'where');
    }
}
