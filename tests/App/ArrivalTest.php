<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Symfony\Component\Filesystem\Filesystem;
use Symfony\Component\HttpFoundation\File\UploadedFile;
use Ypomna\App\Exchange\Arrivals;
use Ypomna\App\Exchange\Message\ImportFile;
use Ypomna\App\Exchange\UnusableFile;
use Ypomna\App\Exchange\Value\ArrivalState;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Role;
use Ypomna\App\Shared\Settings;
use Ypomna\Tests\Support\WarcBuilder;

final class ArrivalTest extends AppTestCase
{
    private string $token;

    protected function setUp(): void
    {
        parent::setUp();
        (new Filesystem())->remove(Settings::dataFolder().'/arrivals');
        $this->token = (string) $this->client->request('GET', '/import')->filter('[data-token]')->attr('data-token');
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
        $desk = self::service(Arrivals::class);
        $arrival = $desk->byCode($code);
        self::assertSame(['old.warc.gz', ArrivalState::Waiting], [$arrival?->name, $arrival?->state]);
        $desk->handle(new ImportFile((int) $arrival?->id));
        self::assertSame([ArrivalState::Taken, 1], [$desk->byCode($code)?->state, $desk->byCode($code)->captures ?? 0]);
        self::assertSame(
            $bytes, file_get_contents(Settings::dataFolder().'/store/'.$this->captureOf('http://lantern.test/a')->warcFile->path),
        );
        self::assertSame([], glob(Settings::dataFolder().'/arrivals/*'));
        self::assertStringContainsString('1 imported', $this->get('/import'));
        $this->put($code, 0, 'more');
        self::assertSame(409, $this->answered());
    }

    public function testTheReportTellsKnownDamagedAndRefused(): void
    {
        $warc = (new WarcBuilder())->exchange('http://lantern.test/a', '2024-11-03T10:00:00Z', '<p>a');
        foreach ([
            'one.warc.gz' => $warc->bytes(), 'same.warc.gz' => $warc->bytes(), 'cut.warc.gz' => substr($warc->bytes(), 0, -9),
            '<b>.txt' => 'just notes', 'empty' => '',
        ] as $name => $bytes) {
            $code = $this->begin($name, \strlen($bytes))['code'];
            self::assertIsString($code);
            $this->put($code, 0, $bytes);
            self::service(Arrivals::class)->handle(new ImportFile((int) self::service(Arrivals::class)->byCode($code)?->id));
        }
        $body = $this->get('/import');
        self::assertStringContainsString(
            '2 refused · 1 damaged · 1 known already · 1 imported', (string) preg_replace('/\s+/', ' ', strip_tags($body)),
        );
        self::assertStringContainsString('truncated: ', $body);
        self::assertStringContainsString('&lt;b&gt;.txt is not a WARC file', $body);
        $this->get('/import/report');
        self::assertSame(286, $this->answered());
    }

    public function testAFileTooLargeForTheFormIsNamed(): void
    {
        $small = new UploadedFile($this->folder->file('a.txt', 'x'), 'a.txt', test: true);
        $large = new UploadedFile($this->folder->file('b.txt', 'x'), 'large.warc', error: \UPLOAD_ERR_INI_SIZE, test: true);
        $this->client->request('POST', '/import', ['_token' => $this->token], ['files' => [$small, $large]]);
        self::assertSame(422, $this->answered());
        self::assertStringContainsString('large.warc: ', $this->body());
        self::assertStringContainsString('1 being read', (string) preg_replace('/\s+/', ' ', strip_tags($this->body())));
    }

    public function testOnlyItsOwnPageMayHandIn(): void
    {
        $this->client->request(
            'POST', '/import/begin', ['name' => 'a', 'bytes' => 1, 'modified' => 0], server: ['HTTP_X_TOKEN' => 'guessed'],
        );
        self::assertSame(403, $this->answered());
        $this->client->request('POST', '/import', ['_token' => 'guessed']);
        self::assertSame(403, $this->answered());
        $code = $this->begin('a', 2)['code'];
        self::assertIsString($code);
        $this->put($code, 0, 'too long');
        self::assertSame(409, $this->answered());
    }

    public function testNobodyElseGoesOnWithAFile(): void
    {
        $code = $this->begin('shared.warc', 10)['code'];
        self::assertIsString($code);
        $this->put($code, 0, 'mine');
        // Somebody else with a file of the same name, size and time gets a place of their own, and cannot reach the first one.
        $this->signIn('Somebody Else', Role::Keeper);
        $this->token = (string) $this->client->request('GET', '/import')->filter('[data-token]')->attr('data-token');
        $other = $this->begin('shared.warc', 10);
        self::assertSame(0, $other['there']);
        self::assertNotSame($code, $other['code']);
        $this->put($code, 4, 'poison');
        self::assertSame(409, $this->answered());
        $arrival = self::service(Arrivals::class)->byCode($code);
        self::assertNotNull($arrival);
        self::assertSame(4, self::service(Arrivals::class)->size($arrival));
    }

    public function testWhatIsAlteredOnItsWayIsTold(): void
    {
        $bytes = (new WarcBuilder())->exchange('http://lantern.test/a', '2024-11-03T10:00:00Z', '<p>a')->bytes();
        $code = $this->begin('a.warc.gz', \strlen($bytes), hash('sha256', $bytes))['code'];
        self::assertIsString($code);
        $this->put($code, 0, substr($bytes, 0, 50), hash('sha256', 'other bytes'));
        self::assertSame(409, $this->answered());
        self::assertStringContainsString('altered on its way', $this->body());
        self::assertSame(['there' => 50], $this->put($code, 0, substr($bytes, 0, 50), hash('sha256', substr($bytes, 0, 50))));
        // A piece of the right length and without a digest: the whole is held against what was promised.
        $this->put($code, 50, str_repeat('x', \strlen($bytes) - 50));
        self::assertSame(409, $this->answered());
        self::assertStringContainsString('not what was promised', $this->body());
        self::assertSame(ArrivalState::Refused, self::service(Arrivals::class)->byCode($code)?->state);
        self::assertSame([], glob(Settings::dataFolder().'/arrivals/*'));
    }

    public function testRoomIsSetAsideAndFreeAgainWhenNothingComes(): void
    {
        $free = (int) disk_free_space(Settings::dataFolder());
        $desk = self::service(Arrivals::class);
        $arrival = $desk->begin(new Actor('somebody'), 'first', intdiv($free, 4), 0);
        try {
            $desk->begin(new Actor('somebody else'), 'second', intdiv($free, 4), 0);
            self::fail('More was promised than there is room.');
        } catch (UnusableFile $e) {
            self::assertSame(['exchange.no_room_for_file', ['file' => 'second']], [$e->key, $e->values]);
        }
        self::assertSame(0, $desk->expire());
        $arrival->touchedAt = new \DateTimeImmutable('-2 days');
        self::service(\Doctrine\ORM\EntityManagerInterface::class)->flush();
        self::assertSame(1, $desk->expire());
        self::assertSame(ArrivalState::Refused, $arrival->state);
        self::assertSame(ArrivalState::Coming, $desk->begin(new Actor('somebody else'), 'second', intdiv($free, 4), 0)->state);
        $this->expectException(UnusableFile::class);
        $desk->begin(new Actor('somebody'), 'none', -1, 0);
    }

    /**
     * @return array<string, mixed>
     */
    private function begin(string $name, int $bytes, ?string $sha256 = null): array
    {
        $this->client->request(
            'POST',
            '/import/begin',
            ['name' => $name, 'bytes' => $bytes, 'modified' => 1_700_000_000] + (null === $sha256 ? [] : ['sha256' => $sha256]),
            server: ['HTTP_X_TOKEN' => $this->token],
        );

        return $this->json();
    }

    /**
     * @return array<string, mixed>
     */
    private function put(string $code, int $at, string $bytes, ?string $sha256 = null): array
    {
        $this->client->request(
            'PUT',
            "/import/{$code}/{$at}",
            server: ['HTTP_X_TOKEN' => $this->token] + (null === $sha256 ? [] : ['HTTP_X_PIECE_SHA256' => $sha256]),
            content: $bytes,
        );

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
