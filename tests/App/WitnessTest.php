<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Doctrine\DBAL\Connection;
use Psr\EventDispatcher\EventDispatcherInterface;
use Symfony\Component\HttpFoundation\File\UploadedFile;
use Ypomna\App\Capture\Event\BroughtIn;
use Ypomna\App\Catalogue\PagePictures;
use Ypomna\App\Desk\ItemRepository;
use Ypomna\App\Exchange\Arrivals;
use Ypomna\App\Exchange\CatalogueRebuilder;
use Ypomna\App\Exchange\Message\ImportFile;
use Ypomna\App\Shared\Role;
use Ypomna\App\Shared\Viewer;
use Ypomna\Tests\Support\WarcBuilder;

/** Copies from somebody's own browser: what they say of them, and that they are shown as what they are. */
final class WitnessTest extends ApiTestCase
{
    private const PAGE = 'http://forum.tidewatch.test/members/t/118';
    private const LOGIN = 'http://forum.tidewatch.test/login';
    private const PIECE = ['CONTENT_TYPE' => 'application/offset+octet-stream'];

    public function testACopyIsTakenInWithWhatTheBrowserSaw(): void
    {
        $job = $this->kept(self::mhtml(), [
            'url' => self::PAGE.'#post-3', 'capturedAt' => '2026-03-02T10:11:12.345Z', 'picture' => 'data:image/png;base64,'
                .base64_encode(self::png(40, 30)), 'title' => 'What the crew said', 'tags' => ['forum'],
            'seen' => ['status' => 403, 'type' => 'text/html', 'charset' => null, 'fields' => [
                ['name' => 'server', 'value' => 'tide/2'], ['name' => 'last-modified', 'value' => 'Mon, 02 Mar 2026 09:00:00 GMT'],
            ]], 'missing' => ['2 pictures below the fold'],
        ]);
        $capture = $this->ask('GET', '/api/captures/'.self::text($job, 'capture'), $this->keeper);
        self::assertSame(
            [self::PAGE, 'witness', 403, '2026-03-02T10:11:12.345000Z'],
            [$capture['url'], $capture['origin'], $capture['status'], $capture['capturedAt']],
        );
        self::assertIsArray($capture['links']);
        self::assertNotNull($capture['links']['picture']);
        $this->signIn('Ilse Varga', Role::Keeper);
        self::assertStringContainsString('witness’s copy', $this->get('/c/'.self::text($capture, 'code')));
        self::assertStringContainsString('witness’s copy', $this->get('/items/'.self::text($job, 'item')));
        $this->get('/address/'.$this->captureOf(self::PAGE)->address->code);
        self::assertStringContainsString('witness’s copy', $this->body());
        $text = self::unpacked($this->given('/c/'.self::text($capture, 'code').'/warc'));
        self::assertStringContainsString('"person": "Ilse Varga"', $text);
        self::assertStringContainsString('"charset": null', $text, 'What the browser did not see is unknown.');
        self::assertMatchesRegularExpression('~"fields": \[\s+\[\s+"server",\s+"tide/2"~', $text);
        self::assertStringContainsString('2 pictures below the fold', $text);
        self::assertStringContainsString("\r\nContent-Type: image/png", $text);
        // A frame in it is no page of its own.
        self::assertSame(1, $this->number('SELECT COUNT(*) FROM capture'));
        // Made anew from files and ledger it is what it was.
        self::service(CatalogueRebuilder::class)->run(static function (): void {});
        self::assertSame('witness', $this->captureOf(self::PAGE)->how);
        self::assertCount(1, self::service(PagePictures::class)->offsets($this->captureOf(self::PAGE)));
    }

    public function testAFileThatLiesAboutItsAddressIsNobodysWitness(): void
    {
        $job = $this->kept(self::mhtml(), ['url' => 'http://forum.tidewatch.test/members/t/119'], 'failed');
        self::assertSame('refused', $job['reason']);
        self::assertSame(0, $this->number('SELECT COUNT(*) FROM capture'));
        $this->signIn('Ilse Varga', Role::Keeper);
        self::assertStringContainsString('but the browser said', $this->get('/import'));
        $this->signOut();
        foreach (['javascript:alert(1)', 'file:///etc/passwd', 'x', 'chrome://settings'] as $url) {
            $this->send(self::mhtml(), ['url' => $url], 422);
        }
        $this->send(self::mhtml(), ['url' => self::PAGE, 'capturedAt' => gmdate('Y-m-d\TH:i:s\Z', time() + 200_000)], 422);
        $this->send(self::mhtml(), ['url' => self::PAGE, 'picture' => 'data:text/html;base64,PGI+'], 422);
        $this->send(self::mhtml(), ['url' => self::PAGE, 'picture' => '222222222222'], 422);
        $this->send(self::mhtml(), ['url' => self::PAGE, 'seen' => ['token' => 'x']], 422);
        foreach ([['name' => "a\r\nb", 'value' => 'x'], ['name' => 'a', 'value' => "x\r\nSet-Cookie: y"], ['name' => 'a']] as $field) {
            $this->send(self::mhtml(), ['url' => self::PAGE, 'seen' => ['fields' => [$field]]], 422);
        }
        $this->send(self::mhtml(), ['url' => self::PAGE, 'seen' => ['fields' => ['server: tide']]], 422);
        $this->send(self::mhtml(), ['url' => self::PAGE, 'beside' => true], 422);
    }

    public function testALargePictureComesBeforeItsFile(): void
    {
        $png = self::png(300, 3_000);
        $code = $this->upload($png, ['beside' => true], 204);
        $other = $this->token('Someone Else', Role::Keeper);
        $this->sendAs($other, self::mhtml(), ['url' => self::PAGE, 'picture' => $code], 422);
        $job = $this->kept(self::mhtml(), ['url' => self::PAGE, 'picture' => $code]);
        $capture = $this->ask('GET', '/api/captures/'.self::text($job, 'capture'), $this->keeper);
        $this->signIn('Ilse Varga', Role::Keeper);
        self::assertSame($png, $this->given('/c/'.self::text($capture, 'code').'/picture/0'));
        self::assertSame('image/png', $this->header('Content-Type'));
        $this->get('/c/'.self::text($capture, 'code').'/thumb');
        self::assertSame(200, $this->answered());
        // It was there for that file alone.
        self::assertNull(self::service(Arrivals::class)->byCode($code));
        $this->signOut();
        $this->upload('no picture', ['beside' => true], 422);
    }

    public function testAPartIsKeptAsAPictureAndNotAsThePage(): void
    {
        $job = $this->kept(self::png(20, 20), ['url' => self::PAGE, 'part' => 'main > table'], name: 'part.png');
        $capture = $this->ask('GET', '/api/captures/'.self::text($job, 'capture'), $this->keeper);
        self::assertStringContainsString('taken-in.invalid', self::text($capture, 'url'));
        self::assertSame('witness', $capture['origin']);
        // A document that was shown in the tab is what is at its address.
        $job = $this->kept("%PDF-1.4\n%%EOF\n", ['url' => 'http://corvane-marine.test/seal.pdf', 'seen' => ['status' => 200]],
            name: 'a.pdf');
        $capture = $this->ask('GET', '/api/captures/'.self::text($job, 'capture'), $this->keeper);
        self::assertSame('http://corvane-marine.test/seal.pdf', $capture['url']);
    }

    public function testOneActIsOneItem(): void
    {
        $asked = $this->ask('POST', '/api/captures', $this->keeper, ['url' => self::PAGE], 202);
        $own = $this->brought(self::text($asked, 'job'));
        $job = $this->kept(self::mhtml(), ['url' => self::PAGE, 'with' => $asked['job']]);
        $items = (array) $this->ask('GET', '/api/items?sorted=false', $this->keeper)['items'];
        self::assertCount(1, $items);
        $links = (array) $this->ask('GET', '/api/items/'.$own.'/links', $this->keeper)['out'];
        // The server was led to a sign-in: the item is about what was seen, and what the server saw is linked.
        self::assertSame([$this->captureOf(self::LOGIN)->code], array_column($links, 'to'));
        $item = $this->ask('GET', '/api/items/'.$own, $this->keeper);
        self::assertSame(['Members only', ['capture' => $job['capture'], 'url' => self::PAGE]],
            [$item['title'], array_intersect_key((array) $item['subject'], ['capture' => 0, 'url' => 0])]);
        $this->send(self::mhtml(), ['url' => self::PAGE, 'with' => '222222222222'], 422);
    }

    /** The capture has worked, and waits in the intake. */
    private function brought(string $job): string
    {
        $this->takeIn((new WarcBuilder('own'))->exchange(self::LOGIN, '2026-03-02T10:11:10Z', '<title>Log in</title><p>Log in'));
        self::service(EventDispatcherInterface::class)->dispatch(new BroughtIn(
            'Ilse Varga', 'job:'.$job, capture: $this->captureOf(self::LOGIN)->code,
        ));

        return (string) self::service(ItemRepository::class)->cameBy(Viewer::system(), 'job:'.$job)?->code;
    }

    private static function mhtml(): string
    {
        return implode("\r\n", [
            'From: <Saved by the browser>', 'Snapshot-Content-Location: '.self::PAGE, 'Subject: Members only',
            'Date: Mon, 2 Mar 2026 10:11:12 -0000',
            'MIME-Version: 1.0', 'Content-Type: multipart/related; type="text/html"; boundary="B"', '', '', '--B',
            'Content-Type: text/html', 'Content-ID: <frame-1@m>', 'Content-Transfer-Encoding: 8bit', 'Content-Location: '.self::PAGE, '',
            '<html><head><title>Members only</title></head><body><p>Said in confidence.<iframe src="cid:frame-2@m"></iframe></body></html>',
            '--B', 'Content-Type: text/html', 'Content-ID: <frame-2@m>', 'Content-Transfer-Encoding: 8bit',
            'Content-Location: http://forum.tidewatch.test/frame', '', '<html><title>Frame</title><p>framed</html>', '--B--', '',
        ]);
    }

    /** @param positive-int $width */
    private static function png(int $width, int $height): string
    {
        $picture = imagecreatetruecolor($width, max(1, $height));
        ob_start();
        imagepng($picture);

        return (string) ob_get_clean();
    }

    /**
     * @param array<string, mixed> $fields
     *
     * @return array<string, mixed> the job when it has ended
     */
    private function kept(string $bytes, array $fields, string $state = 'kept', string $name = 'page.mhtml'): array
    {
        $this->send($bytes, $fields, 202, $name);
        $where = $this->header('Location');
        $arrival = self::service(Arrivals::class)->byCode(basename($where));
        self::service(Arrivals::class)->handle(new ImportFile((int) $arrival?->id));
        $job = $this->ask('GET', $where, $this->keeper);
        self::assertSame($state, $job['state'], $this->body());

        return $job;
    }

    /** @param array<string, mixed> $fields */
    private function send(string $bytes, array $fields, int $status, string $name = 'page.mhtml'): void
    {
        $this->sendAs($this->keeper, $bytes, $fields, $status, $name);
    }

    /** @param array<string, mixed> $fields */
    private function sendAs(string $token, string $bytes, array $fields, int $status, string $name = 'page.mhtml'): void
    {
        ob_start();
        $this->client->request(
            'POST', '/api/arrivals', ['fields' => (string) json_encode($fields + ['seenBy' => 'browser'])],
            ['file' => new UploadedFile($this->folder->file($name, $bytes), $name, null, null, true)],
            ['HTTP_AUTHORIZATION' => 'Bearer '.$token, 'CONTENT_TYPE' => 'multipart/form-data; boundary=x'],
        );
        ob_end_clean();
        self::assertSame($status, $this->answered(), $this->body());
    }

    /** @param array<string, mixed> $fields */
    private function upload(string $bytes, array $fields, int $status): string
    {
        $begun = $this->ask('POST', '/api/arrivals/upload', $this->keeper, [
            'name' => 'picture.png', 'bytes' => \strlen($bytes), 'sha256' => hash('sha256', $bytes), 'fields' => $fields,
        ], 201);
        $this->raw('PATCH', $this->header('Location'), $this->keeper, $bytes, self::PIECE + ['HTTP_UPLOAD_OFFSET' => '0'], $status);

        return self::text($begun, 'upload');
    }

    private function given(string $path): string
    {
        ob_start();
        $this->client->request('GET', $path);
        ob_end_clean();

        return $this->client->getInternalResponse()->getContent();
    }

    private static function unpacked(string $warc): string
    {
        $text = '';
        for ($at = 0; $at < \strlen($warc);) {
            $inflate = inflate_init(\ZLIB_ENCODING_GZIP);
            self::assertNotFalse($inflate);
            $text .= inflate_add($inflate, substr($warc, $at), \ZLIB_FINISH);
            $read = inflate_get_read_len($inflate);
            if ($read <= 0) {
                break;
            }
            $at += $read;
        }

        return $text;
    }

    private function number(string $sql): int
    {
        $value = self::service(Connection::class)->fetchOne($sql);

        return is_numeric($value) ? (int) $value : -1;
    }
}
