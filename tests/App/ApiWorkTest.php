<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Doctrine\DBAL\Connection;
use PHPUnit\Framework\Attributes\DataProvider;
use Ypomna\App\Exchange\Entity\Parcel;
use Ypomna\App\Exchange\Importer;
use Ypomna\App\Exchange\Message\BuildParcel;
use Ypomna\App\Exchange\Message\VerifyHoldings;
use Ypomna\App\Exchange\Parcels;
use Ypomna\App\Exchange\Verifier;
use Ypomna\App\People\Value\Scope;
use Ypomna\App\References\MatchReferencesHandler;
use Ypomna\App\References\Message\MatchReferences;
use Ypomna\App\References\ReferenceLists;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Role;
use Ypomna\App\Shared\Viewer;
use Ypomna\App\Watch\Entity\Watch;
use Ypomna\App\Watch\Value\EventKind;
use Ypomna\App\Watch\WatchEvents;
use Ypomna\App\Watch\WatchRequests;
use Ypomna\Core\Recurrence\ChangeNotice;
use Ypomna\Tests\Support\WarcBuilder;

/** Comparisons, watches and references as programs ask for them. */
final class ApiWorkTest extends ApiTestCase
{
    private const PAGE = 'http://lantern.test/stern-door';

    public function testTwoCapturesAreCompared(): void
    {
        $one = $this->brought('2024-11-03', '<p>The stern door was inspected in October.');
        $other = $this->brought('2024-11-05', '<p>The stern door was inspected in November.');
        $secret = $this->brought('2024-11-07', '<p>The stern door was never inspected.', true);
        foreach (["{$one}/{$other}", "{$other}/{$one}"] as $pair) {
            $said = $this->ask('GET', '/api/comparisons/'.$pair, $this->reader);
            self::assertIsArray($said['old']);
            self::assertSame('2024-11-03T00:00:00.000000Z', $said['old']['capturedAt']);
            self::assertStringContainsString('November', (string) json_encode($said['comparison']));
        }
        $this->ask('GET', "/api/comparisons/{$one}/{$secret}", $this->reader, null, 404);
        self::assertStringContainsString(
            'never', (string) json_encode($this->ask('GET', "/api/comparisons/{$one}/{$secret}", $this->keeper)['comparison']),
        );
        $this->ask('GET', "/api/comparisons/{$one}/222222222222", $this->keeper, null, 404);
    }

    public function testAWatchIsBegunChangedAndEnded(): void
    {
        $said = $this->ask('POST', '/api/watches', $this->keeper, [
            'target' => self::PAGE.'#door', 'name' => 'The door', 'everyDays' => 0.5,
            'condition' => ['kind' => 'phrase-comes', 'text' => 'inspected'],
        ], 201);
        $where = $this->header('Location');
        self::assertSame(
            ['address', self::PAGE, 'The door', 'running', 0.5, true, 1],
            array_map(static fn (string $name): mixed => $said[$name], ['scope', 'target', 'name', 'state', 'everyDays', 'keeps', 'pages']),
        );
        self::assertSame($said, $this->ask('GET', $where, $this->keeper));
        self::assertSame($said, $this->ask('GET', $where, $this->reader));
        $this->ask('PATCH', $where, $this->keeper, ['state' => 'paused'], 428);
        $match = ['HTTP_IF_MATCH' => '"'.self::text($said, 'etag').'"'];
        $this->ask('PATCH', $where, $this->reader, ['state' => 'paused'], 403, $match);
        $paused = $this->ask('PATCH', $where, $this->keeper, ['state' => 'paused', 'everyDays' => null], 200, $match);
        self::assertSame(['paused', null, 'The door'], [$paused['state'], $paused['everyDays'], $paused['name']]);
        self::assertSame(['kind' => 'phrase-comes', 'text' => 'inspected', 'column' => ''], $paused['condition']);
        // Whoever knows only what was before is told so, and changes nothing.
        $this->ask('PATCH', $where, $this->keeper, ['state' => 'ended'], 412, $match);
        self::assertSame($paused, $this->ask('GET', $where, $this->keeper));
        $match = ['HTTP_IF_MATCH' => '"'.self::text($paused, 'etag').'"'];
        $this->ask('PATCH', $where, $this->keeper, ['target' => 'http://other.test/'], 422, $match);
        self::assertSame('ended', $this->ask('PATCH', $where, $this->keeper, ['state' => 'ended'], 200, $match)['state']);
        $this->ask('POST', '/api/watches', $this->reader, ['target' => self::PAGE], 403);
    }

    /**
     * @param array<string, mixed> $body
     * @param list<string>         $pointers
     */
    #[DataProvider('wrongWatches')]
    public function testAWatchThatCannotBeIsRefused(array $body, array $pointers): void
    {
        $said = $this->ask('POST', '/api/watches', $this->keeper, $body, 422);
        self::assertSame($pointers, array_column((array) $said['errors'], 'pointer'));
        self::assertSame([], self::made(Watch::class));
    }

    /** @return iterable<string, array{array<string, mixed>, list<string>}> */
    public static function wrongWatches(): iterable
    {
        yield 'nothing' => [[], ['/target']];
        yield 'no web' => [['target' => 'file:///etc/passwd'], ['/target']];
        yield 'too often' => [['target' => self::PAGE, 'everyDays' => 0.001], ['/everyDays']];
        yield 'no number' => [['target' => self::PAGE, 'everyDays' => '3'], ['/everyDays']];
        yield 'no phrase' => [['target' => self::PAGE, 'condition' => ['kind' => 'phrase-goes']], ['/condition']];
        yield 'no condition' => [
            ['target' => self::PAGE, 'condition' => ['kind' => 'often', 'x' => 1]], ['/condition/kind', '/condition/x'],
        ];
        yield 'a hook inside' => [['target' => self::PAGE, 'hookUrl' => 'http://127.0.0.1:3306/'], ['/hookUrl']];
        yield 'a state' => [['target' => self::PAGE, 'state' => 'ended', 'agent' => 'x'], ['/state', '/agent']];
    }

    public function testTheAddressOfAHookIsForThoseWhoMaySetIt(): void
    {
        $code = self::text($this->ask('POST', '/api/watches', $this->keeper, ['target' => self::PAGE], 201), 'code');
        $watches = self::service(WatchRequests::class);
        $watch = $watches->byCode(Viewer::system(), $code);
        self::assertInstanceOf(Watch::class, $watch);
        $watch->hookUrl = 'http://hooks.example/in?key=secret';
        $watches->save($watch);
        self::assertSame($watch->hookUrl, $this->ask('GET', '/api/watches/'.$code, $this->keeper)['hookUrl']);
        self::assertNull($this->ask('GET', '/api/watches/'.$code, $this->reader)['hookUrl']);
        self::assertSame([null], $this->walked('/api/watches', 'hookUrl'));
    }

    public function testListsOfWatchesAndEventsGoOn(): void
    {
        $codes = [];
        foreach (['a', 'b', 'c'] as $name) {
            $codes[] = self::text(
                $this->ask('POST', '/api/watches', $this->keeper, ['target' => 'http://lantern.test/'.$name], 201), 'code',
            );
        }
        self::assertSame(array_reverse($codes), $this->walked('/api/watches?limit=2', 'code'));
        $watch = self::service(WatchRequests::class)->byCode(Viewer::system(), $codes[0]);
        self::assertInstanceOf(Watch::class, $watch);
        foreach (['one', 'two', 'three'] as $text) {
            self::service(WatchEvents::class)->enter($watch, EventKind::Changed, null, self::PAGE, new ChangeNotice('before', $text));
        }
        self::assertSame(['three', 'two', 'one'], $this->walked('/api/events?limit=2', 'after'));
        self::assertSame(['three', 'two', 'one'], $this->walked('/api/events?limit=1&watch='.$codes[0], 'after'));
        self::assertSame([], $this->walked('/api/events?watch='.$codes[1], 'after'));
        $this->ask('GET', '/api/events?watch=222222222222', $this->reader, null, 404);
        $this->ask('GET', '/api/events?after=x', $this->reader, null, 400);
    }

    public function testAWatchOfWhatIsConfidentialIsForItsPerson(): void
    {
        $this->brought('2024-11-03', '<p>A witness.', true);
        $said = $this->ask('POST', '/api/watches', $this->keeper, ['target' => self::PAGE], 201);
        $where = '/api/watches/'.self::text($said, 'code');
        $this->ask('GET', $where, $this->reader, null, 404);
        self::assertSame([], $this->walked('/api/watches', 'code'));
        $this->ask('GET', '/api/events?watch='.self::text($said, 'code'), $this->reader, null, 404);
        $this->ask('GET', $where, $this->keeper);
    }

    public function testReferencesAreHandedInAndTold(): void
    {
        $capture = $this->brought('2024-11-03', '<p>Held.');
        $said = $this->ask('POST', '/api/references', $this->keeper, [
            'text' => "See http://lantern.test/stern-door (accessed 3 November 2024)\nand http://lantern.test/not-held .",
            'name' => 'a.txt',
        ], 201);
        $where = $this->header('Location');
        self::assertSame(2, ((array) $said['counts'])['all']);
        self::assertSame('a.txt', $this->ask('GET', $where, $this->reader)['name']);
        self::assertSame([self::PAGE, 'http://lantern.test/not-held'], $this->walked($where.'/rows?limit=1', 'url'));
        self::assertSame([self::text($said, 'code')], $this->walked('/api/references', 'code'));
        $this->ask('POST', $where.'/check', $this->reader, null, 403);
        $this->ask('POST', $where.'/check', $this->keeper, null, 202);
        $this->ask('POST', '/api/references', $this->keeper, ['text' => 'There is none here.'], 422);
        $this->ask('GET', '/api/references/222222222222', $this->keeper, null, 404);

        // One whose page is held and was not found alive is led to what is held; the files are there for the same token.
        $repairs = $where.'/repairs';
        $list = self::service(ReferenceLists::class)->byCode(self::text($said, 'code'));
        self::service(MatchReferencesHandler::class)(new MatchReferences((int) $list?->id));
        $wrong = $this->ask('PUT', $repairs, $this->keeper, ['positions' => [0, 1, 'x', 7]], 422);
        self::assertSame(['/positions/2'], array_column((array) $wrong['errors'], 'pointer'));
        $rows = (array) $this->ask('GET', $where.'/rows', $this->keeper)['items'];
        $places = array_column($rows, 'position', 'url');
        $wrong = $this->ask('PUT', $repairs, $this->keeper, ['positions' => [$places['http://lantern.test/not-held']]], 422);
        self::assertSame(['/positions/0'], array_column((array) $wrong['errors'], 'pointer'));
        $this->ask('PUT', $repairs, $this->keeper, ['positions' => []], 422);
        $this->ask('PUT', $repairs, $this->reader, ['positions' => [$places[self::PAGE]]], 403);
        $said = $this->ask('PUT', $repairs, $this->keeper, ['positions' => [$places[self::PAGE]]]);
        self::assertSame(1, $said['repaired']);
        $permanent = 'http://localhost:8020/c/'.$capture;
        foreach (['document', 'alterations'] as $file) {
            ob_start();
            $this->client->request('GET', self::text($said, $file), server: ['HTTP_AUTHORIZATION' => 'Bearer '.$this->reader]);
            $body = ob_get_clean().$this->body();
            self::assertSame(200, $this->answered());
            self::assertStringContainsString($permanent, $body);
        }
        $rows = (array) $this->ask('GET', $where.'/rows', $this->keeper)['items'];
        self::assertSame($permanent, array_column($rows, 'repairedTo', 'url')[self::PAGE]);
    }

    public function testWhatHoldsForAllWatchesIsChangedByOneAtATime(): void
    {
        $this->ask('GET', '/api/watches/settings', $this->reader, null, 403);
        $said = $this->ask('GET', '/api/watches/settings', $this->keeper);
        $etag = ['HTTP_IF_MATCH' => '"'.self::text($said, 'etag').'"'];
        $this->ask('PATCH', '/api/watches/settings', $this->keeper, ['budget' => 9], 428);
        $wrong = $this->ask('PATCH', '/api/watches/settings', $this->keeper, [
            'budget' => 0, 'mailTo' => 'nobody', 'digestAt' => '25:00', 'quietFrom' => '22:00', 'zone' => 'Nowhere',
        ], 422, $etag);
        self::assertSame(
            ['/budget', '/mailTo', '/digestAt', '/quietFrom', '/zone'], array_column((array) $wrong['errors'], 'pointer'),
        );
        $this->ask('PATCH', '/api/watches/settings', $this->keeper, ['mailFrom' => 'x'], 422, $etag);
        $changed = $this->ask('PATCH', '/api/watches/settings', $this->keeper, [
            'budget' => 90, 'quietFrom' => '22:00', 'quietTo' => '06:30', 'zone' => 'Europe/Athens',
        ], 200, $etag);
        self::assertEquals([90, '22:00', 'Europe/Athens'], [$changed['budget'], $changed['quietFrom'], $changed['zone']]);
        $this->ask('PATCH', '/api/watches/settings', $this->keeper, ['budget' => 91], 412, $etag);
        $now = ['HTTP_IF_MATCH' => '"'.self::text($changed, 'etag').'"'];
        $back = $this->ask('PATCH', '/api/watches/settings', $this->keeper, ['quietFrom' => null, 'quietTo' => null], 200, $now);
        self::assertSame(['', ''], [$back['quietFrom'], $back['quietTo']]);
    }

    public function testPeopleAreLookedAfterByATokenThatMay(): void
    {
        $usual = $this->token('Bram Hollis', Role::Administrator);
        $admin = $this->token('Bram Hollis', Role::Administrator, [Scope::Admin]);
        foreach ([$usual, $this->keeper, $this->token('Tomas Okoye', Role::Custodian, [Scope::Admin])] as $other) {
            $this->ask('GET', '/api/people', $other, null, 403);
            $this->ask('POST', '/api/people/invitations', $other, ['role' => 'reader'], 403);
            $this->ask('GET', '/api/people/log', $other, null, 403);
        }
        $names = $this->walked('/api/people?limit=2', 'name', $admin);
        self::assertContains('Nerys Quill', $names);
        /** @var array<string, array<string, mixed>> $people */
        $people = array_column((array) $this->ask('GET', '/api/people', $admin)['items'], null, 'name');
        $reader = $people['Nerys Quill'];
        $path = '/api/people/'.self::text($reader, 'code');
        $etag = ['HTTP_IF_MATCH' => '"'.self::text($reader, 'etag').'"'];
        $this->ask('PATCH', $path, $admin, ['role' => 'keeper'], 428);
        $this->ask('PATCH', $path, $admin, ['role' => 'king'], 422, $etag);
        // Nothing else of a person can be said, whatever columns there are.
        foreach (['name', 'password', 'secondStep', 'mail', 'feed', 'id'] as $name) {
            $this->ask('PATCH', $path, $admin, ['role' => 'keeper', $name => 'x'], 422, $etag);
        }
        self::assertSame('reader', $this->ask('GET', $path, $admin)['role']);
        $changed = $this->ask('PATCH', $path, $admin, ['role' => 'keeper'], 200, $etag);
        self::assertSame('keeper', $changed['role']);
        $this->ask('PATCH', $path, $admin, ['role' => 'custodian'], 412, $etag);
        self::assertSame('keeper', $this->ask('GET', '/api/me', $this->reader)['role']);
        $now = ['HTTP_IF_MATCH' => '"'.self::text($changed, 'etag').'"'];
        $closed = $this->ask('PATCH', $path, $admin, ['closed' => true], 200, $now);
        self::assertTrue($closed['closed']);
        $this->ask('GET', '/api/me', $this->reader, null, 401);
        $own = $people['Bram Hollis'];
        $this->ask('PATCH', '/api/people/'.self::text($own, 'code'), $admin, ['role' => 'reader'], 422, [
            'HTTP_IF_MATCH' => '"'.self::text($own, 'etag').'"',
        ]);
        $this->ask('GET', '/api/people/222222222222', $admin, null, 404);

        $said = $this->ask('POST', '/api/people/invitations', $admin, ['role' => 'keeper', 'mail' => 'edda@watchdog.test'], 201);
        self::assertStringStartsWith('http://localhost:8020/sign-in/link/', self::text($said, 'link'));
        foreach ([[], ['role' => 'king'], ['role' => 'keeper', 'mail' => 'nobody'], ['role' => 'keeper', 'name' => 'x']] as $wrong) {
            $this->ask('POST', '/api/people/invitations', $admin, $wrong, 422);
        }
        $log = (array) $this->ask('GET', '/api/people/log?limit=6', $admin)['items'];
        self::assertSame(
            ['program-acted', 'invited', 'program-acted', 'person-closed', 'program-acted', 'role-changed'], array_column($log, 'act'),
        );
        self::assertSame(array_fill(0, 6, 'Bram Hollis'), array_column($log, 'who'));
        // Which token it was, and what it did.
        $id = self::service(Connection::class)->fetchOne(
            "SELECT t.id FROM person_token t JOIN person p ON p.id = t.person_id WHERE p.name = 'Bram Hollis' AND t.scopes = 'admin'",
        );
        self::assertIsString($id);
        self::assertSame($id.': PATCH /api/people/…', array_column($log, 'detail')[2]);
    }

    public function testFavouritesAreEachOnesOwn(): void
    {
        $code = $this->brought('2024-11-03', '<p>Held.');
        $secret = $this->brought('2024-11-05', '<p>A witness.', true);
        $said = $this->ask('PUT', '/api/favourites/capture/'.$code, $this->reader, ['pinned' => true]);
        self::assertSame(['capture', $code, true, self::PAGE], [$said['kind'], $said['code'], $said['pinned'], $said['url']]);
        self::assertTrue($this->ask('PUT', '/api/favourites/capture/'.$code, $this->reader, [])['pinned']);
        foreach (['capture/'.$secret, 'capture/222222222222', 'watch/'.$code] as $path) {
            $this->ask('PUT', '/api/favourites/'.$path, $this->reader, [], 404);
        }
        $this->ask('PUT', '/api/favourites/capture/'.$code, $this->reader, ['person' => 'Ilse Varga'], 422);
        self::assertSame([$code], array_column((array) $this->ask('GET', '/api/favourites', $this->reader)['items'], 'code'));
        self::assertSame([], $this->ask('GET', '/api/favourites', $this->keeper)['items']);
        $this->raw('DELETE', '/api/favourites/capture/'.$code, $this->keeper, '', [], 404);
        $this->raw('DELETE', '/api/favourites/capture/'.$code, $this->reader, '', [], 204);
        $this->raw('DELETE', '/api/favourites/capture/'.$code, $this->reader, '', [], 404);
    }

    public function testEverythingIsVerifiedForCustodians(): void
    {
        $custodian = $this->token('Tomas Okoye', Role::Custodian);
        $this->brought('2024-11-03', '<p>Held.');
        $this->ask('GET', '/api/verifications/latest', $custodian, null, 404);
        $this->ask('POST', '/api/verifications', $this->keeper, null, 403);
        $begun = $this->ask('POST', '/api/verifications', $custodian, null, 202);
        self::assertSame(['Tomas Okoye', null], [$begun['by'], $begun['finishedAt']]);
        self::assertSame($begun['code'], $this->ask('POST', '/api/verifications', $custodian, null, 202)['code']);
        $verifier = self::service(Verifier::class);
        $verifier->handle(new VerifyHoldings((int) $verifier->latest()?->id));
        $done = $this->ask('GET', '/api/verifications/latest', $custodian);
        self::assertSame([1, [], $begun['code']], [$done['filesDone'], $done['findings'], $done['code']]);
        self::assertNotNull($done['finishedAt']);
    }

    public function testCapturesAreGivenOutToATokenThatMay(): void
    {
        $open = $this->brought('2024-11-03', '<p>Held.');
        $secret = $this->brought('2024-11-05', '<p>A witness.', true);
        $this->ask('POST', '/api/parcels', $this->keeper, ['captures' => [$open]], 403);
        $other = $this->token('Someone Else', Role::Keeper, [Scope::Export]);
        $said = $this->ask('POST', '/api/parcels', $other, ['captures' => [$open, $secret], 'addresses' => ['222222222222']], 422);
        self::assertSame(['/captures/1', '/addresses/0'], array_column((array) $said['errors'], 'pointer'));
        foreach ([[], ['format' => 'zip'], ['captures' => [7]]] as $wrong) {
            $this->ask('POST', '/api/parcels', $other, $wrong, 422);
        }
        $this->ask('POST', '/api/parcels', $other, ['everything' => true], 403);
        $asked = $this->ask('POST', '/api/parcels', $other, ['captures' => [$open], 'format' => 'mhtml'], 202);
        $where = $this->header('Location');
        self::assertSame('waiting', $asked['state']);
        self::service(Parcels::class)->putTogether(new BuildParcel((int) self::made(Parcel::class)[0]->id));
        $ready = $this->ask('GET', $where, $other);
        self::assertSame(['ready', 1], [$ready['state'], $ready['captures']]);
        /** @var list<array<string, mixed>> $files */
        $files = $ready['files'];
        $file = (string) preg_replace('~^https?://[^/]+~', '', self::text($files[0], 'href'));
        $this->raw('GET', $file, $other, '', [], 200);
        $this->raw('GET', $file, $this->keeper, '', [], 403);
        $another = $this->token('Nobody Else', Role::Keeper, [Scope::Export]);
        $this->ask('GET', $where, $another, null, 404);
        $this->raw('GET', $file, $another, '', [], 404);
        $this->client->request('GET', '/export', server: ['HTTP_AUTHORIZATION' => 'Bearer '.$other]);
        self::assertSame(302, $this->answered());
        // Where too many wait, whoever asks is told when to come again.
        for ($n = 0; $n < 40; ++$n) {
            $this->ask('POST', '/api/parcels', $other, ['captures' => [$open]], 202);
        }
        $this->ask('POST', '/api/parcels', $other, ['captures' => [$open]], 429);
        self::assertSame('60', $this->header('Retry-After'));
    }

    /** @return list<mixed> of all pages of a list */
    private function walked(string $path, string $field, ?string $token = null): array
    {
        $all = [];
        for ($n = 0; $n < 10; ++$n) {
            $said = $this->ask('GET', $path, $token ?? $this->reader);
            array_push($all, ...array_column((array) $said['items'], $field));
            if (!\is_string($said['next'])) {
                return $all;
            }
            $path = (string) preg_replace('~^https?://[^/]+~', '', $said['next']);
        }
        self::fail('The list does not end.');
    }

    private function brought(string $day, string $body, bool $confidential = false): string
    {
        $file = (new WarcBuilder(self::PAGE.$day))->exchange(self::PAGE, $day.'T00:00:00Z', $body);
        self::service(Importer::class)->file(
            $this->folder->file(hash('crc32b', $day).'.warc.gz', $file->bytes()), new Actor('Ilse Varga'), $confidential,
        );

        return $this->captureOf(self::PAGE, $day)->code;
    }
}
