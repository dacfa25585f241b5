<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Doctrine\DBAL\Connection;
use PHPUnit\Framework\Attributes\DataProvider;
use Symfony\Component\HttpFoundation\File\UploadedFile;
use Symfony\Component\Routing\RouterInterface;
use Ypomna\App\Capture\Entity\CaptureJob;
use Ypomna\App\Exchange\Arrivals;
use Ypomna\App\Exchange\Entity\Arrival;
use Ypomna\App\Exchange\Importer;
use Ypomna\App\Exchange\Message\ImportFile;
use Ypomna\App\People\PersonChanges;
use Ypomna\App\People\Value\Scope;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Role;
use Ypomna\Tests\Support\TestClock;
use Ypomna\Tests\Support\WarcBuilder;

/** Captures, addresses and dossiers as programs ask for them. */
final class ApiHoldingsTest extends ApiTestCase
{
    private const PAGE = 'http://lantern.test/stern-door';
    private const SECRET = 'http://lantern.test/quiet/witness';

    public function testAPageIsAskedForAndItsJobTold(): void
    {
        $asked = ['url' => self::PAGE, 'how' => 'plain', 'title' => 'The door', 'why' => 'It opens.', 'tags' => ['doors'],
            'due' => '2025-01-31', 'confidential' => true];
        $said = $this->ask('POST', '/api/captures', $this->keeper, $asked, 202);
        $where = $this->header('Location');
        self::assertSame('/api/jobs/'.self::text($said, 'job'), $where);
        $job = $this->ask('GET', $where, $this->keeper);
        self::assertSame(
            ['job', 'state', 'stage', 'url', 'capture', 'item', 'verdict', 'reason', 'due'], array_keys($job),
        );
        self::assertSame(['waiting', self::PAGE, null, '2025-01-31'], [$job['state'], $job['url'], $job['capture'], $job['due']]);
        $this->ask('GET', $where, $this->reader, null, 404);
        self::assertTrue(self::made(CaptureJob::class)[0]->limited);
        $this->ask('POST', '/api/captures', $this->reader, ['url' => self::PAGE], 403);
    }

    /**
     * @param array<string, mixed> $body
     * @param list<string>         $pointers
     */
    #[DataProvider('wrongCaptures')]
    public function testWhatIsWrongIsToldWithItsPlace(array $body, array $pointers): void
    {
        $said = $this->ask('POST', '/api/captures', $this->keeper, $body, 422);
        self::assertSame('application/problem+json', $this->header('Content-Type'));
        self::assertIsArray($said['errors']);
        self::assertSame($pointers, array_column($said['errors'], 'pointer'));
        self::assertSame([], self::made(CaptureJob::class));
    }

    /** @return iterable<string, array{array<string, mixed>, list<string>}> */
    public static function wrongCaptures(): iterable
    {
        yield 'nothing' => [[], ['/url']];
        yield 'no address' => [['url' => 'javascript:alert(1)'], ['/url']];
        yield 'a number' => [['url' => 7], ['/url']];
        yield 'null' => [['url' => null], ['/url']];
        yield 'unknown fields' => [['url' => self::PAGE, 'a/b~c' => 1, 'role' => 'custodian'], ['/a~1b~0c', '/role']];
        yield 'a long title' => [['url' => self::PAGE, 'title' => str_repeat('ü', 1_001)], ['/title']];
        yield 'a long tag' => [['url' => self::PAGE, 'tags' => ['good', str_repeat('a', 201), 7]], ['/tags/1', '/tags/2']];
        yield 'no list' => [['url' => self::PAGE, 'tags' => 'one'], ['/tags']];
        yield 'no truth' => [['url' => self::PAGE, 'confidential' => 'yes'], ['/confidential']];
        yield 'no day' => [['url' => self::PAGE, 'due' => '2024-02-30'], ['/due']];
        yield 'no manner' => [['url' => self::PAGE, 'how' => 'quickly', 'extent' => 'all'], ['/how', '/extent']];
        yield 'no part' => [['url' => self::PAGE, 'extent' => 'part'], ['/part']];
        yield 'no dossier' => [['url' => self::PAGE, 'dossier' => '222222222222'], ['/dossier']];
    }

    public function testABodyHasToBeOne(): void
    {
        $bodies = ['' => 400, '{' => 400, '[]' => 422, '"a"' => 422, "{\"url\": \"\xff\"}" => 400, str_repeat('[', 100) => 400];
        foreach ($bodies as $body => $status) {
            $this->raw('POST', '/api/captures', $this->keeper, $body, ['CONTENT_TYPE' => 'application/json'], $status);
        }
        $this->raw('POST', '/api/captures', $this->keeper, 'url=x', ['CONTENT_TYPE' => 'application/x-www-form-urlencoded'], 415);
        $this->raw('POST', '/api/captures', $this->keeper, '{}', [], 415);
        $huge = '{"url":"'.str_repeat('a', 2_200_000).'"}';
        $this->raw('POST', '/api/captures', $this->keeper, $huge, ['CONTENT_TYPE' => 'application/json'], 413);
    }

    public function testAskedAgainWithTheSameKeyNothingIsDoneTwice(): void
    {
        $key = ['HTTP_IDEMPOTENCY_KEY' => 'one-'.bin2hex(random_bytes(4))];
        $first = $this->ask('POST', '/api/captures', $this->keeper, ['url' => self::PAGE], 202, $key);
        $where = $this->header('Location');
        self::assertSame($first, $this->ask('POST', '/api/captures', $this->keeper, ['url' => self::PAGE], 202, $key));
        self::assertSame($where, $this->header('Location'));
        self::assertCount(1, self::made(CaptureJob::class));
        $this->ask('POST', '/api/captures', $this->keeper, ['url' => self::SECRET], 422, $key);
        // It belongs to a person: somebody else's is another one.
        $other = $this->token('Bram Hollis', Role::Administrator);
        self::assertNotSame($first, $this->ask('POST', '/api/captures', $other, ['url' => self::PAGE], 202, $key));
        self::service(Connection::class)->executeStatement('UPDATE first_answer SET status = 0');
        $this->ask('POST', '/api/captures', $this->keeper, ['url' => self::PAGE], 409, $key);
        self::service(Connection::class)->executeStatement("UPDATE first_answer SET asked_at = '2024-01-01'");
        $this->ask('POST', '/api/captures', $this->keeper, ['url' => self::PAGE], 202, $key);
        // What was refused is refused in the same words.
        $wrong = ['HTTP_IDEMPOTENCY_KEY' => 'wrong'];
        $said = $this->ask('POST', '/api/captures', $this->keeper, ['url' => ''], 422, $wrong);
        self::assertSame($said, $this->ask('POST', '/api/captures', $this->keeper, ['url' => ''], 422, $wrong));
        $this->ask('POST', '/api/captures', $this->keeper, ['url' => self::PAGE], 400, ['HTTP_IDEMPOTENCY_KEY' => str_repeat('a', 300)]);
    }

    public function testACaptureIsToldAndMadeConfidential(): void
    {
        $code = $this->brought(self::PAGE, '2024-11-03T10:00:00Z');
        $said = $this->ask('GET', '/api/captures/'.$code, $this->reader);
        self::assertSame([
            'code', 'url', 'finalUrl', 'capturedAt', 'status', 'title', 'verdict', 'confidential', 'origin', 'sha256', 'bytes', 'gaps',
            'links', 'etag',
        ], array_keys($said));
        self::assertSame(
            [$code, self::PAGE, '2024-11-03T10:00:00.000000Z', 200, false, 'imported', 0],
            [$said['code'], $said['url'], $said['capturedAt'], $said['status'], $said['confidential'], $said['origin'], $said['gaps']],
        );
        self::assertSame('"'.self::text($said, 'etag').'"', $this->header('ETag'));
        $this->raw('GET', '/c/'.$code.'/raw', $this->reader, '', [], 200);
        $match = ['HTTP_IF_MATCH' => '"'.self::text($said, 'etag').'"'];
        $path = '/api/captures/'.$code;
        $this->ask('PATCH', $path, $this->keeper, ['confidential' => true], 428);
        $this->ask('PATCH', $path, $this->keeper, ['confidential' => true], 412, ['HTTP_IF_MATCH' => '"another"']);
        $this->ask('PATCH', $path, $this->keeper, ['confidential' => 1], 422, $match);
        $this->ask('PATCH', $path, $this->keeper, ['url' => 'http://other.test/'], 422, $match);
        $this->ask('PATCH', $path, $this->token('Bram Hollis', Role::Administrator), ['confidential' => true], 403, $match);
        $said = $this->ask('PATCH', $path, $this->keeper, ['confidential' => true], 200, $match);
        self::assertTrue($said['confidential']);
        foreach ([$path, '/api/addresses/'.$this->captureOf(self::PAGE)->address->code.'/captures', '/c/'.$code.'/raw'] as $gone) {
            $this->raw('GET', $gone, $this->reader, '', [], 404);
        }
        $this->ask('PATCH', $path, $this->reader, ['confidential' => false], 404, $match);
        self::assertSame(0, $this->ask('GET', '/api/addresses?url='.rawurlencode(self::PAGE), $this->reader)['held']);
        $this->ask('PATCH', $path, $this->keeper, ['confidential' => false], 412, $match);
        $this->ask('PATCH', $path, $this->keeper, ['confidential' => false], 200, ['HTTP_IF_MATCH' => '"'.self::text($said, 'etag').'"']);
        self::assertSame(1, $this->ask('GET', '/api/addresses?url='.rawurlencode(self::PAGE), $this->reader)['held']);
    }

    public function testWhatIsHeldIsToldByTheBeginningOfItsDigest(): void
    {
        $this->brought(self::PAGE, '2024-11-03T10:00:00Z');
        $this->brought(self::PAGE, '2024-12-03T10:00:00Z');
        $this->brought(self::SECRET, '2024-12-03T10:00:00Z', true);
        foreach ([self::PAGE => [2, 2], self::SECRET => [1, 0]] as $url => $held) {
            $digest = hash('sha256', $url);
            foreach ([$this->keeper, $this->reader] as $n => $token) {
                $said = $this->ask('GET', '/api/held/'.substr($digest, 0, 5), $token);
                $found = array_values(array_filter((array) $said['items'], static fn (mixed $one): bool => \is_array($one)
                    && substr($digest, 5) === $one['rest']));
                self::assertSame($held[$n], $found[0]['held'] ?? 0, $url);
            }
        }
        foreach (['abcd', 'ABCDE', 'abcdef', 'zzzzz'] as $wrong) {
            $this->raw('GET', '/api/held/'.$wrong, $this->reader, '', [], 400);
        }
    }

    public function testAListOfCapturesGoesOn(): void
    {
        for ($day = 1; $day <= 5; ++$day) {
            $this->brought(self::PAGE, "2024-11-0{$day}T10:00:00Z");
        }
        $list = '/api/addresses/'.$this->captureOf(self::PAGE)->address->code.'/captures';
        $path = $list.'?limit=2';
        $seen = [];
        $n = 0;
        for (; null !== $path && $n < 9; ++$n) {
            $said = $this->ask('GET', $path, $this->reader);
            array_push($seen, ...array_column((array) $said['items'], 'capturedAt'));
            $path = \is_string($said['next']) ? (string) preg_replace('~^https?://[^/]+~', '', $said['next']) : null;
        }
        self::assertSame(3, $n);
        self::assertSame(array_map(static fn (int $day): string => "2024-11-0{$day}T10:00:00.000000Z", [5, 4, 3, 2, 1]), $seen);
        foreach (['limit=0', 'limit=201', 'limit=x', 'after=zzz'] as $wrong) {
            $this->raw('GET', $list.'?'.$wrong, $this->reader, '', [], 400);
        }
    }

    public function testADossierIsMadeChangedAndBroughtBack(): void
    {
        $said = $this->ask('POST', '/api/dossiers', $this->keeper, ['name' => 'Stern doors', 'people' => ['Nerys Quill' => 'reader']], 201);
        self::assertSame(
            ['code', 'name', 'parent', 'note', 'template', 'fields', 'pinned', 'open', 'people', 'etag'], array_keys($said),
        );
        self::assertSame(['private', ['Ilse Varga' => 'lead', 'Nerys Quill' => 'reader']], [$said['open'], $said['people']]);
        $path = $this->header('Location');
        $first = ['HTTP_IF_MATCH' => '"'.self::text($said, 'etag').'"'];
        $this->ask('GET', $path, $this->reader);
        $this->ask('PATCH', $path, $this->reader, ['name' => 'Mine'], 403, $first);
        $changed = $this->ask('PATCH', $path, $this->keeper, ['name' => 'Doors', 'open' => 'all', 'pinned' => true], 200, $first);
        self::assertSame(['Doors', 'all', true], [$changed['name'], $changed['open'], $changed['pinned']]);
        // Whether it is pinned is each one's own, and so is what stands for the state that they were told.
        $other = $this->token('Someone Else', Role::Keeper);
        $seen = $this->ask('GET', $path, $other);
        self::assertFalse($seen['pinned']);
        self::assertNotSame($changed['etag'], $seen['etag']);
        $theirs = ['HTTP_IF_MATCH' => '"'.self::text($seen, 'etag').'"'];
        $this->ask('PATCH', $path, $other, ['pinned' => true, 'note' => 'x'], 403, $theirs);
        $this->raw('PATCH', $path, $other, '{', $theirs + self::JSON, 403);
        $this->ask('PATCH', $path, $other, ['pinned' => true], 428);
        self::assertTrue($this->ask('PATCH', $path, $other, ['pinned' => true], 200, $theirs)['pinned']);
        $this->ask('PATCH', $path, $other, ['pinned' => false], 412, $theirs);
        self::assertSame($changed['etag'], $this->ask('GET', $path, $this->keeper)['etag']);
        // Of two who change the same state, one is told so.
        $this->ask('PATCH', $path, $this->keeper, ['name' => 'Again'], 412, $first);
        $now = ['HTTP_IF_MATCH' => '"'.self::text($changed, 'etag').'"'];
        $this->ask('PATCH', $path, $this->keeper, ['people' => ['Ilse Varga' => null]], 422, $now);
        $this->ask('PATCH', $path, $this->keeper, ['people' => ['No One' => 'reader']], 422, $now);
        $this->ask('PATCH', $path, $this->keeper, ['parent' => self::text($said, 'code')], 409, $now);
        $this->ask('DELETE', $path, $this->keeper, null, 428);
        $this->raw('DELETE', $path, $this->keeper, '', $now, 204);
        $this->ask('GET', $path, $this->keeper, null, 404);
        $this->ask('POST', $path.'/restore', $this->reader, null, 403);
        $this->ask('POST', $path.'/restore', $this->token('Someone Else', Role::Keeper), null, 404);
        $back = $this->ask('POST', $path.'/restore', $this->keeper);
        self::assertSame('Doors', $back['name']);
        $all = (array) $this->ask('GET', '/api/dossiers', $this->reader)['items'];
        self::assertSame([self::text($said, 'code')], array_column($all, 'code'));
        $this->raw('DELETE', $path, $this->keeper, '', ['HTTP_IF_MATCH' => '"'.self::text($back, 'etag').'"'], 204);
        TestClock::forward('31 days');
        $this->ask('POST', $path.'/restore', $this->keeper, null, 404);
    }

    public function testWhoIsMadeAReaderOfADossierFindsItAtOnce(): void
    {
        $dossier = self::text($this->ask('POST', '/api/dossiers', $this->keeper, ['name' => 'For two'], 201), 'code');
        $code = $this->brought(self::SECRET, '2024-11-03T10:00:00Z', true);
        $this->raw('POST', "/api/dossiers/{$dossier}/captures", $this->keeper, '{"capture":"'.$code.'"}', self::JSON, 204);
        foreach (["/api/dossiers/{$dossier}", "/api/captures/{$code}", "/api/dossiers/{$dossier}/captures"] as $path) {
            $this->ask('GET', $path, $this->reader, null, 404);
        }
        $etag = ['HTTP_IF_MATCH' => '"'.self::text($this->ask('GET', "/api/dossiers/{$dossier}", $this->keeper), 'etag').'"'];
        $this->ask('PATCH', "/api/dossiers/{$dossier}", $this->keeper, ['people' => ['Nerys Quill' => 'reader']], 200, $etag);
        self::assertSame($code, $this->ask('GET', "/api/captures/{$code}", $this->reader)['code']);
        $held = (array) $this->ask('GET', "/api/dossiers/{$dossier}/captures", $this->reader)['items'];
        self::assertSame([$code], array_column($held, 'code'));
        $this->raw('DELETE', "/api/dossiers/{$dossier}/captures/{$code}", $this->reader, '', [], 403);
        $this->raw('DELETE', "/api/dossiers/{$dossier}/captures/{$code}", $this->keeper, '', [], 204);
        $this->ask('GET', "/api/captures/{$code}", $this->reader, null, 404);
    }

    public function testAScopeReachesAsFarAsItSays(): void
    {
        $write = $this->token('Ilse Varga', Role::Keeper, [Scope::Write]);
        $code = $this->brought(self::SECRET, '2024-11-03T10:00:00Z', true);
        $this->ask('GET', '/api/captures/'.$code, $write, null, 403);
        $this->ask('GET', '/api/captures/222222222222', $write, null, 404);
        $this->ask('POST', '/api/captures', $write, ['url' => self::PAGE], 403);
        $this->raw('GET', '/c/'.$code.'/raw', $write, '', [], 403);
        $read = $this->token('Ilse Varga', Role::Keeper, [Scope::Read]);
        $this->ask('POST', '/api/dossiers', $read, ['name' => 'x'], 403);
        $this->ask('GET', '/api/captures/'.$code, $read);
        // What may not be seen is not there, whatever the token reaches.
        $other = $this->token('Someone Else', Role::Keeper, [Scope::Write]);
        $this->ask('GET', '/api/captures/'.$code, $other, null, 404);
        $nothing = $this->body();
        $this->ask('GET', '/api/captures/222222222222', $other, null, 404);
        self::assertSame($nothing, $this->body());
        self::service(PersonChanges::class)->setRole(new Actor('The test'), $this->person('Ilse Varga', Role::Keeper), Role::Reader);
        $this->ask('POST', '/api/captures', $this->keeper, ['url' => self::PAGE], 403);
    }

    public function testEveryRouteOfProgramsIsDescribed(): void
    {
        $this->raw('GET', '/api/me', $this->keeper, '', [], 200);
        ob_start();
        $this->client->request('GET', '/api/openapi.json');
        ob_end_clean();
        self::assertSame(200, $this->answered());
        $said = json_decode($this->body(), true, 64, \JSON_THROW_ON_ERROR);
        self::assertIsArray($said);
        self::assertSame('3.1.0', $said['openapi']);
        $told = $routes = [];
        foreach ((array) $said['paths'] as $path => $operations) {
            array_push($told, ...array_map(
                static fn (int|string $method): string => strtoupper((string) $method).' '.$path, array_keys((array) $operations),
            ));
        }
        foreach (self::service(RouterInterface::class)->getRouteCollection()->all() as $name => $route) {
            if (str_starts_with($name, 'api_') && !\in_array($name, ['api_nothing', 'api_openapi', 'api_page'], true)) {
                $own = static fn (string $method): string => $method.' '.$route->getPath();
                array_push($routes, ...array_map($own, $route->getMethods()));
            }
        }
        sort($told);
        sort($routes);
        self::assertSame($routes, $told);
        self::assertStringContainsString('<code>/api/dossiers/{code}</code>', $this->get('/api'));
    }

    public function testAFileIsHandedInWithWhatIsSaidOfIt(): void
    {
        $bytes = (new WarcBuilder('w'))->exchange(self::SECRET, '2024-11-03T10:00:00Z', '<title>Kept</title><p>w')->bytes();
        $dossier = self::text($this->ask('POST', '/api/dossiers', $this->keeper, ['name' => 'For two'], 201), 'code');
        $fields = ['title' => 'A witness', 'why' => 'It is gone.', 'tags' => ['doors'], 'dossier' => $dossier, 'confidential' => true,
            'seenBy' => 'browser', 'url' => self::SECRET, 'capturedAt' => '2024-11-03T11:00:00+01:00', 'due' => '2025-01-01'];
        $this->send($bytes, $fields, 202);
        $where = $this->header('Location');
        self::assertSame(['waiting', self::SECRET], array_values(array_intersect_key($this->ask('GET', $where, $this->keeper), [
            'state' => 1, 'url' => 1,
        ])));
        $this->ask('GET', $where, $this->reader, null, 404);
        $this->work();
        $job = $this->ask('GET', $where, $this->keeper);
        self::assertSame('kept', $job['state']);
        $capture = $this->ask('GET', '/api/captures/'.self::text($job, 'capture'), $this->keeper);
        self::assertSame([self::SECRET, true, 'witness'], [$capture['url'], $capture['confidential'], $capture['origin']]);
        $held = $this->ask('GET', "/api/dossiers/{$dossier}/captures", $this->keeper)['items'];
        self::assertSame([$job['capture']], array_column((array) $held, 'code'));
        $this->send($bytes, ['capturedAt' => 'yesterday', 'tags' => [1], 'role' => 'x'], 422);
        $wrong = json_decode($this->body(), true);
        self::assertIsArray($wrong);
        self::assertSame(
            ['/fields/tags/0', '/fields/capturedAt', '/fields/role'], array_column((array) $wrong['errors'], 'pointer'),
        );
    }

    public function testAFileComesInPiecesAndGoesOn(): void
    {
        $bytes = (new WarcBuilder('u'))->exchange(self::PAGE, '2024-11-03T10:00:00Z', '<p>'.bin2hex(random_bytes(2_000)))->bytes();
        $said = ['name' => 'u.warc.gz', 'bytes' => \strlen($bytes), 'sha256' => hash('sha256', $bytes)];
        $begun = $this->ask('POST', '/api/arrivals/upload', $this->keeper, $said + ['fields' => ['confidential' => true]], 201);
        $where = $this->header('Location');
        self::assertSame(0, $begun['offset']);
        $piece = ['CONTENT_TYPE' => 'application/offset+octet-stream'];
        $this->raw('PATCH', $where, $this->keeper, substr($bytes, 0, 700), $piece + ['HTTP_UPLOAD_OFFSET' => '0'], 204);
        self::assertSame('700', $this->header('Upload-Offset'));
        $this->raw('PATCH', $where, $this->keeper, 'x', $piece + ['HTTP_UPLOAD_OFFSET' => '5'], 409);
        self::assertSame('700', $this->header('Upload-Offset'));
        $this->raw('PATCH', $where, $this->keeper, 'x', $piece, 400);
        $this->raw('PATCH', $where, $this->keeper, 'x', self::JSON + ['HTTP_UPLOAD_OFFSET' => '700'], 415);
        $other = $this->token('Someone Else', Role::Keeper);
        $this->raw('HEAD', $where, $other, '', [], 404);
        $this->raw('PATCH', $where, $other, 'x', $piece + ['HTTP_UPLOAD_OFFSET' => '700'], 404);
        $this->raw('HEAD', $where, $this->keeper, '', [], 200);
        self::assertSame('700', $this->header('Upload-Offset'));
        $this->raw('PATCH', $where, $this->keeper, substr($bytes, 700), $piece + ['HTTP_UPLOAD_OFFSET' => '700'], 202);
        $job = $this->header('Location');
        $this->raw('HEAD', $where, $this->keeper, '', [], 404);
        $this->work();
        self::assertSame('kept', $this->ask('GET', $job, $this->keeper)['state']);
        $this->ask('GET', $job, $other, null, 404);
        // What comes to something else than was promised is refused.
        $this->ask('POST', '/api/arrivals/upload', $this->keeper, ['sha256' => hash('sha256', 'x'), 'bytes' => 3, 'name' => 'x'], 201);
        $this->raw('PATCH', $this->header('Location'), $this->keeper, 'abc', $piece + ['HTTP_UPLOAD_OFFSET' => '0'], 422);
        $wrongs = [['bytes' => -1], ['bytes' => '3'], ['sha256' => 'x'], ['name' => null], ['fields' => 1], ['fields' => ['x' => 1]]];
        foreach ($wrongs as $wrong) {
            $this->ask('POST', '/api/arrivals/upload', $this->keeper, $wrong + $said, 422);
        }
    }

    /** @param array<string, mixed> $fields */
    private function send(string $bytes, array $fields, int $status): void
    {
        $file = new UploadedFile($this->folder->file('seen.warc.gz', $bytes), 'seen.warc.gz', null, null, true);
        ob_start();
        $this->client->request(
            'POST', '/api/arrivals', ['fields' => (string) json_encode($fields)], ['file' => $file],
            ['HTTP_AUTHORIZATION' => 'Bearer '.$this->keeper, 'CONTENT_TYPE' => 'multipart/form-data; boundary=x'],
        );
        ob_end_clean();
        self::assertSame($status, $this->answered(), $this->body());
    }

    private function work(): void
    {
        foreach (self::made(Arrival::class) as $arrival) {
            self::service(Arrivals::class)->handle(new ImportFile((int) $arrival->id));
        }
    }

    private function brought(string $url, string $at, bool $confidential = false): string
    {
        $file = (new WarcBuilder($url.$at))->exchange($url, $at, '<title>A page</title><p>said '.$at);
        self::service(Importer::class)->file(
            $this->folder->file(hash('crc32b', $url.$at).'.warc.gz', $file->bytes()), new Actor('Ilse Varga'), $confidential,
        );

        return $this->captureOf($url, $at)->code;
    }
}
