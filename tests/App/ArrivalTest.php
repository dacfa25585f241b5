<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Symfony\Component\Filesystem\Filesystem;
use Symfony\Component\HttpFoundation\File\UploadedFile;
use Ypomna\App\Custody\ArrivalDesk;
use Ypomna\App\Custody\TakeInFile;
use Ypomna\App\Custody\Value\ArrivalState;
use Ypomna\App\Settings;
use Ypomna\Tests\Support\WarcBuilder;

final class ArrivalTest extends AppTestCase
{
    private string $token;

    protected function setUp(): void
    {
        parent::setUp();
        (new Filesystem())->remove(Settings::dataFolder().'/arrivals');
        $this->token = (string) $this->client->request('GET', '/take-in')->filter('[data-token]')->attr('data-token');
    }

    public function testAFileComesInPiecesAndIsTakenIn(): void
    {
        $bytes = (new WarcBuilder())->exchange('http://lantern.test/a', '2024-11-03T10:00:00Z', str_repeat('<p>a', 500))->bytes();
        $code = $this->begin('../../etc/old.warc.gz', \strlen($bytes))['code'];
        self::assertIsString($code);
        self::assertSame(['there' => 100], $this->put($code, 0, substr($bytes, 0, 100)));
        // A piece that came twice, or out of turn, changes nothing: the answer says where to go on.
        self::assertSame(['there' => 100], $this->put($code, 0, substr($bytes, 0, 100)));
        self::assertSame(['there' => 100], $this->put($code, 150, 'x'));
        // Broken off, and begun again: it goes on where it stood.
        self::assertSame(['code' => $code, 'there' => 100], $this->begin('old.warc.gz', \strlen($bytes)));
        self::assertSame(['there' => \strlen($bytes)], $this->put($code, 100, substr($bytes, 100)));
        $desk = self::service(ArrivalDesk::class);
        $arrival = $desk->byCode($code);
        self::assertSame(['old.warc.gz', ArrivalState::Waiting], [$arrival?->name, $arrival?->state]);
        $desk->handle(new TakeInFile((int) $arrival?->id));
        self::assertSame([ArrivalState::Taken, 1], [$desk->byCode($code)?->state, $desk->byCode($code)->captures ?? 0]);
        self::assertSame($bytes, file_get_contents(Settings::dataFolder().'/store/'.$this->captureOf('http://lantern.test/a')->warcFile->path));
        self::assertSame([], glob(Settings::dataFolder().'/arrivals/*'));
        self::assertStringContainsString('1 taken in', $this->get('/take-in'));
        $this->put($code, 0, 'more');
        self::assertSame(409, $this->answered());
    }

    public function testTheReportTellsKnownDamagedAndRefused(): void
    {
        $warc = (new WarcBuilder())->exchange('http://lantern.test/a', '2024-11-03T10:00:00Z', '<p>a');
        foreach (['one.warc.gz' => $warc->bytes(), 'same.warc.gz' => $warc->bytes(), 'cut.warc.gz' => substr($warc->bytes(), 0, -9), '<b>.txt' => 'just notes', 'empty' => ''] as $name => $bytes) {
            $code = $this->begin($name, \strlen($bytes))['code'];
            self::assertIsString($code);
            $this->put($code, 0, $bytes);
            self::service(ArrivalDesk::class)->handle(new TakeInFile((int) self::service(ArrivalDesk::class)->byCode($code)?->id));
        }
        $body = $this->get('/take-in');
        self::assertStringContainsString('2 refused · 1 damaged · 1 known already · 1 taken in', (string) preg_replace('/\s+/', ' ', strip_tags($body)));
        self::assertStringContainsString('truncated: ', $body);
        self::assertStringContainsString('&lt;b&gt;.txt is no WARC file', $body);
        $this->get('/take-in/report');
        self::assertSame(286, $this->answered());
    }

    public function testAFileTooLargeForTheFormIsNamed(): void
    {
        $small = new UploadedFile($this->folder->file('a.txt', 'x'), 'a.txt', test: true);
        $large = new UploadedFile($this->folder->file('b.txt', 'x'), 'large.warc', error: \UPLOAD_ERR_INI_SIZE, test: true);
        $this->client->request('POST', '/take-in', ['_token' => $this->token], ['files' => [$small, $large]]);
        self::assertSame(422, $this->answered());
        self::assertStringContainsString('large.warc: ', $this->body());
        self::assertStringContainsString('1 is being read', (string) preg_replace('/\s+/', ' ', strip_tags($this->body())));
    }

    public function testOnlyItsOwnPageMayHandIn(): void
    {
        $this->client->request('POST', '/take-in/begin', ['name' => 'a', 'bytes' => 1, 'modified' => 0], server: ['HTTP_X_TOKEN' => 'guessed']);
        self::assertSame(403, $this->answered());
        $this->client->request('POST', '/take-in', ['_token' => 'guessed']);
        self::assertSame(403, $this->answered());
        $code = $this->begin('a', 2)['code'];
        self::assertIsString($code);
        $this->put($code, 0, 'too long');
        self::assertSame(409, $this->answered());
    }

    /**
     * @return array<string, mixed>
     */
    private function begin(string $name, int $bytes): array
    {
        $this->client->request('POST', '/take-in/begin', ['name' => $name, 'bytes' => $bytes, 'modified' => 1_700_000_000], server: ['HTTP_X_TOKEN' => $this->token]);

        return $this->json();
    }

    /**
     * @return array<string, mixed>
     */
    private function put(string $code, int $at, string $bytes): array
    {
        $this->client->request('PUT', "/take-in/{$code}/{$at}", server: ['HTTP_X_TOKEN' => $this->token], content: $bytes);

        return $this->json();
    }

    /**
     * @return array<string, mixed>
     */
    private function json(): array
    {
        /** @var array<string, mixed> $said */
        $said = json_decode((string) $this->client->getResponse()->getContent(), true, 8, \JSON_THROW_ON_ERROR);

        return $said;
    }
}
