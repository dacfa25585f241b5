<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Psr\EventDispatcher\EventDispatcherInterface;
use Ypomna\App\Capture\CaptureDescriptions;
use Ypomna\App\Capture\Event\BroughtIn;
use Ypomna\App\Capture\Value\CaptureDescription;
use Ypomna\App\Catalogue\CaptureLimits;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Desk\Intake;
use Ypomna\App\Desk\ItemRepository;
use Ypomna\App\People\Value\Scope;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Role;
use Ypomna\App\Shared\Viewer;
use Ypomna\Tests\Support\WarcBuilder;

/** What lies on the desk, as programs make and change it. */
final class ItemTest extends ApiTestCase
{
    private const PAGE = 'http://lantern.test/a';

    public function testAnItemIsMadeReadAndChanged(): void
    {
        $item = $this->make(['title' => 'What the mate said', 'note' => "# Said\n\n- [ ] ask again", 'tags' => ['to check', 'mate']]);
        self::assertSame(['note', 'What the mate said', false, []], [$item['kind'], $item['title'], $item['sorted'], $item['dossiers']]);
        self::assertSame(['mate', 'to check'], $item['tags']);
        self::assertSame('"'.self::text($item, 'etag').'"', $this->header('ETag'));
        $code = self::text($item, 'code');
        self::assertSame($item, $this->ask('GET', '/api/items/'.$code, $this->keeper));
        $changed = $this->patch($item, [
            'title' => 'The mate', 'summary' => 'In short', 'due' => '2026-12-24', 'dueFor' => 'follow-up', 'important' => true,
            'fields' => ['said on' => '2024-11~', 'where' => ['name' => 'Low Quay', 'latitude' => 51.5, 'longitude' => -3.2]],
            'tags' => null,
        ]);
        self::assertSame(['The mate', 'In short', '2026-12-24', 'follow-up', true, []], [
            $changed['title'], $changed['summary'], $changed['due'], $changed['dueFor'], $changed['important'], $changed['tags'],
        ]);
        self::assertEquals(['name' => 'Low Quay', 'latitude' => 51.5, 'longitude' => -3.2], self::map($changed, 'fields')['where']);
        self::assertSame('# Said'."\n\n".'- [ ] ask again', $changed['note'], 'What is not said stays.');
        self::assertNotSame($item['etag'], $changed['etag']);
        $this->ask('PATCH', '/api/items/'.$code, $this->keeper, ['title' => 'x'], 428);
        $this->patch($item, ['title' => 'too late'], 412);
        $again = $this->patch($changed, ['due' => null, 'dueFor' => null, 'fields' => ['where' => ['name' => null], 'said on' => null]]);
        self::assertNull($again['due']);
        self::assertEquals(['where' => ['latitude' => 51.5, 'longitude' => -3.2]], $again['fields']);
    }

    public function testAnotherItemIsMadeAfterOne(): void
    {
        $dossier = $this->dossier('Stern door');
        $first = $this->make([
            'title' => 'Interview', 'note' => "- [x] record\n- [ ] write down", 'tags' => ['interview'], 'due' => '2026-12-24',
            'dossiers' => [$dossier], 'fields' => ['told by' => 'the mate'], 'important' => true,
        ]);
        $under = $this->make(['title' => 'Questions', 'parent' => $first['code']]);
        $this->make(['title' => 'The first one', 'parent' => $under['code']]);
        $copy = $this->ask('POST', '/api/items/'.self::text($first, 'code').'/copy', $this->keeper, ['title' => 'Second interview'], 201);
        self::assertSame(
            ['note', 'Second interview', "- [ ] record\n- [ ] write down", ['interview'], null, [$dossier], ['told by' => 'the mate'],
                true],
            [$copy['kind'], $copy['title'], $copy['note'], $copy['tags'], $copy['due'], $copy['dossiers'], $copy['fields'],
                $copy['important']],
        );
        $below = self::rows($this->ask('GET', '/api/items?parent='.self::text($copy, 'code'), $this->keeper), 'items');
        self::assertSame(['Questions'], array_column($below, 'title'));
        self::assertCount(1, self::rows(
            $this->ask('GET', '/api/items?parent='.self::text($below[0] ?? [], 'code'), $this->keeper), 'items',
        ));
        $other = $this->token('Bram Hollis', Role::Keeper);
        $this->ask('POST', '/api/items/'.self::text($first, 'code').'/copy', $other, [], 404);
    }

    public function testWhatIsWrongIsToldWithWhereItStands(): void
    {
        $dossier = $this->dossier('Stern door', ['fields' => [
            ['name' => 'date', 'type' => 'date'], ['name' => 'sure', 'type' => 'choice', 'choices' => ['yes', 'no']],
            ['name' => 'depth', 'type' => 'number'], ['name' => 'page', 'type' => 'address'],
        ]]);
        foreach ([
            '/title' => ['title' => str_repeat('x', 1_001)], '/colour' => ['colour' => 'red'], '/kind' => ['kind' => 'list'],
            '/tags/1' => ['tags' => ['a', 'b/c']], '/due' => ['due' => '2026-02-30'], '/dueFor' => ['dueFor' => 'sing'],
            '/subject/capture' => ['subject' => ['capture' => '222222222222']], '/subject/url' => ['subject' => ['url' => 'no address']],
            '/subject/sha256' => ['subject' => ['sha256' => 'ab']], '/subject/colour' => ['subject' => ['colour' => 1]],
            '/parent' => ['parent' => '222222222222'], '/dossiers' => ['dossiers' => ['222222222222']],
            '/fields/date' => ['dossiers' => [$dossier], 'fields' => ['date' => 'some day']],
            '/fields/sure' => ['dossiers' => [$dossier], 'fields' => ['sure' => 'perhaps']],
            '/fields/depth' => ['dossiers' => [$dossier], 'fields' => ['depth' => '12 cm']],
            '/fields/page' => ['dossiers' => [$dossier], 'fields' => ['page' => 'nowhere']],
            '/fields/a~1b' => ['fields' => ['a/b' => ['latitude' => 91, 'longitude' => 0]]],
            '/fields/place' => ['fields' => ['place' => ['latitude' => 5]]], '/important' => ['important' => 'yes'],
        ] as $pointer => $body) {
            $said = $this->ask('POST', '/api/items', $this->keeper, $body, 422);
            self::assertSame([$pointer], array_column(self::rows($said, 'errors'), 'pointer'), (string) json_encode($said));
        }
        self::assertSame([], $this->ask('GET', '/api/items', $this->keeper)['items'], 'Nothing was made.');
        $item = $this->make(['dossiers' => [$dossier],
            'fields' => ['date' => '../2024-11-09', 'depth' => ['value' => 12, 'unit' => 'cm']]]);
        self::assertTrue($item['sorted']);
        foreach (['sorted=maybe', 'kind=x', 'order=x', 'due=2026', 'dossier=..', 'after=zz', 'parent[]=x'] as $query) {
            $this->ask('GET', '/api/items?'.$query, $this->keeper, null, 400);
        }
    }

    public function testACaptureBecomesAnItemWithWhatWasWrittenBesideIt(): void
    {
        $capture = $this->capture();
        self::service(CaptureDescriptions::class)->writeOf(
            new Actor('Ilse Varga'), $capture->code, new CaptureDescription('The notice', 'It was reworded later', ['stern door']), false,
        );
        $item = $this->make(['kind' => 'capture', 'subject' => ['capture' => $capture->code]]);
        self::assertSame(['The notice', 'It was reworded later', ['stern door']], [$item['title'], $item['summary'], $item['tags']]);
        self::assertSame([$item['code']], array_column(
            self::rows($this->ask('GET', '/api/items?capture='.$capture->code, $this->keeper), 'items'), 'code',
        ));
        // In two dossiers it is one item still.
        [$one, $two] = [$this->dossier('One'), $this->dossier('Two')];
        foreach ([$one, $two] as $dossier) {
            $this->ask('POST', "/api/dossiers/{$dossier}/captures", $this->keeper, ['capture' => $capture->code], 204);
        }
        $now = $this->ask('GET', '/api/items/'.self::text($item, 'code'), $this->keeper);
        self::assertSame([$one, $two], $now['dossiers']);
        self::assertCount(1, self::rows($this->ask('GET', '/api/items', $this->keeper), 'items'));
        $this->ask('DELETE', "/api/dossiers/{$one}/captures/{$capture->code}", $this->keeper, null, 204);
        self::assertSame([$two], $this->ask('GET', '/api/items/'.self::text($item, 'code'), $this->keeper)['dossiers']);
    }

    public function testListsGoOnWithNothingTwiceAndNothingLost(): void
    {
        $dossier = $this->dossier('Order');
        $codes = [];
        foreach (['d', 'a', 'c', 'b', 'b'] as $n => $title) {
            $codes[] = self::text($this->make([
                'title' => $title, 'dossiers' => [$dossier], 'due' => $n > 2 ? null : '2026-12-0'.(9 - $n), 'important' => 0 === $n % 2,
            ]), 'code');
        }
        foreach ([
            "dossier={$dossier}" => [0, 1, 2, 3, 4], 'order=newest' => [4, 3, 2, 1, 0], 'order=oldest' => [0, 1, 2, 3, 4],
            'order=title' => [1, 3, 4, 2, 0], 'order=due' => [2, 1, 0, 3, 4], "within={$dossier}&order=title" => [1, 3, 4, 2, 0],
            'important=true&order=oldest' => [0, 2, 4], 'due=before:2026-12-09&order=due' => [2, 1], 'sorted=false' => [],
            'kind=note&order=oldest' => [0, 1, 2, 3, 4],
        ] as $query => $expected) {
            $found = [];
            for ($next = '/api/items?limit=2&'.$query; \is_string($next); $next = $said['next']) {
                $said = $this->ask('GET', (string) preg_replace('~^https?://[^/]+~', '', $next), $this->keeper);
                array_push($found, ...array_column(self::rows($said, 'items'), 'code'));
                if (3 === \count($found) && 'order=oldest' === $query) {
                    $this->make(['title' => 'came meanwhile']);
                    $expected[] = null;
                }
            }
            self::assertSame(array_map(static fn (?int $n): ?string => null === $n ? null : $codes[$n], $expected), array_map(
                static fn (mixed $code): mixed => \in_array($code, $codes, true) ? $code : null, $found,
            ), $query);
        }
        // By hand.
        $this->move($codes[4], ['dossier' => $dossier, 'before' => $codes[1]]);
        $this->move($codes[0], ['dossier' => $dossier]);
        self::assertSame(
            [$codes[4], $codes[1], $codes[2], $codes[3], $codes[0]],
            array_column(self::rows($this->ask('GET', '/api/items?dossier='.$dossier, $this->keeper), 'items'), 'code'),
        );
    }

    public function testItemsUnderItems(): void
    {
        $dossier = $this->dossier('Tree');
        $top = self::text($this->make(['title' => 'top', 'dossiers' => [$dossier]]), 'code');
        $middle = self::text($this->make(['title' => 'middle', 'parent' => $top]), 'code');
        [$first, $second] = [self::text($this->make(['title' => '1', 'parent' => $middle]), 'code'), self::text($this->make([
            'title' => '2', 'parent' => $middle,
        ]), 'code')];
        $under = fn (string $code): array => array_column(self::rows($this->ask('GET', '/api/items?parent='.$code, $this->keeper),
            'items'), 'code');
        self::assertSame([$first, $second], $under($middle));
        $this->move($second, ['before' => $first]);
        self::assertSame([$second, $first], $under($middle));
        $this->ask('POST', "/api/items/{$top}/move", $this->keeper, ['parent' => $first], 409);
        $this->ask('POST', "/api/items/{$top}/move", $this->keeper, ['parent' => $top], 409);
        $this->ask('POST', "/api/items/{$top}/move", $this->keeper, [], 422);
        $this->ask('POST', "/api/items/{$first}/move", $this->keeper, ['before' => $top], 422);
        $this->ask('POST', "/api/items/{$first}/move", $this->keeper, ['before' => $second, 'after' => $second], 422);
        $this->move($middle, ['parent' => null]);
        self::assertSame([], $under($top));
        self::assertSame([$second, $first], $under($middle));
        // With the one above go those below, and come back with it.
        $item = $this->ask('GET', '/api/items/'.$middle, $this->keeper);
        $this->ask('DELETE', '/api/items/'.$middle, $this->keeper, null, 428);
        $this->ask('DELETE', '/api/items/'.$middle, $this->keeper, null, 204, ['HTTP_IF_MATCH' => '"'.self::text($item, 'etag').'"']);
        $this->ask('GET', '/api/items/'.$first, $this->keeper, null, 404);
        $this->ask('POST', "/api/items/{$middle}/restore", $this->reader, null, 404);
        self::assertSame('middle', $this->ask('POST', "/api/items/{$middle}/restore", $this->keeper)['title']);
        self::assertSame([$second, $first], $under($middle));
    }

    public function testManyAtOnceAllOrNothingAndPutBack(): void
    {
        $dossier = $this->dossier('Answer');
        $codes = array_map(fn (int $n): string => self::text($this->make(['title' => 'n'.$n, 'tags' => ['old']]), 'code'), range(1, 3));
        $before = array_map(fn (string $code): array => $this->ask('GET', '/api/items/'.$code, $this->keeper), $codes);
        $said = $this->ask('POST', '/api/items/batch', $this->keeper, ['codes' => $codes, 'set' => [
            'addTags' => ['seal'], 'removeTags' => ['old'], 'addDossiers' => [$dossier], 'important' => true, 'due' => '2026-12-31',
            'fields' => ['who' => 'the mate'],
        ]]);
        self::assertSame(3, $said['changed']);
        foreach ($codes as $code) {
            $item = $this->ask('GET', '/api/items/'.$code, $this->keeper);
            self::assertSame([['seal'], [$dossier], true, true, '2026-12-31', ['who' => 'the mate']], [
                $item['tags'], $item['dossiers'], $item['important'], $item['sorted'], $item['due'], $item['fields'],
            ]);
        }
        $undo = self::text($said, 'undo');
        $this->ask('POST', '/api/undo/'.$undo, $this->reader, null, 404);
        // Two acts are put back, the newest first.
        $second = self::text($this->ask('POST', '/api/items/batch', $this->keeper, ['codes' => [$codes[0]], 'set' => ['title' => 'x']]),
            'undo');
        $problem = $this->ask('POST', '/api/undo/'.$undo, $this->keeper, null, 409);
        self::assertSame([$codes[0]], $problem['items']);
        self::assertSame(1, $this->ask('POST', '/api/undo/'.$second, $this->keeper)['changed']);
        self::assertSame(3, $this->ask('POST', '/api/undo/'.$undo, $this->keeper)['changed']);
        $this->ask('POST', '/api/undo/'.$undo, $this->keeper, null, 404);
        foreach ($before as $item) {
            $now = $this->ask('GET', '/api/items/'.self::text($item, 'code'), $this->keeper);
            self::assertSame(array_diff_key($item, ['changedAt' => 0]), array_diff_key($now, ['changedAt' => 0]));
        }
        // One that is not there, and nothing is done.
        $this->ask('POST', '/api/items/batch', $this->keeper, ['codes' => [$codes[0], '222222222222'], 'set' => ['title' => 'y']], 422);
        $this->ask('POST', '/api/items/batch', $this->keeper, ['codes' => [$codes[0]], 'set' => ['note' => 'y']], 422);
        $this->ask('POST', '/api/items/batch', $this->keeper,
            ['codes' => $codes, 'set' => ['title' => 'z', 'fields' => ['w' => ['latitude' => 1]]]], 422);
        self::assertSame('n1', $this->ask('GET', '/api/items/'.$codes[0], $this->keeper)['title']);
    }

    public function testLinksAreSeenFromBothEnds(): void
    {
        $capture = $this->capture();
        [$note, $other] = [self::text($this->make(['title' => 'note']), 'code'),
            self::text($this->make(['subject' => ['capture' => $capture->code]]), 'code')];
        $link = $this->ask('POST', "/api/items/{$note}/links", $this->keeper, ['to' => $other, 'remark' => 'says the same'], 201);
        $gloss = $this->ask('POST', "/api/items/{$note}/links", $this->keeper, [
            'to' => $capture->code, 'passage' => ['exact' => 'Held in port', 'prefix' => 'x '],
        ], 201);
        self::assertSame(['exact' => 'Held in port', 'prefix' => 'x '], $gloss['passage']);
        self::assertSame(['out' => [$link, $gloss], 'in' => []], $this->ask('GET', "/api/items/{$note}/links", $this->keeper));
        self::assertSame(['out' => [], 'in' => [$link, $gloss]], $this->ask('GET', "/api/items/{$other}/links", $this->keeper));
        $this->ask('POST', "/api/items/{$note}/links", $this->keeper, ['to' => '222222222222'], 422);
        $this->ask('POST', "/api/items/{$note}/links", $this->keeper, ['to' => $other, 'passage' => ['prefix' => 'x']], 422);
        $path = '/api/links/'.self::text($link, 'code');
        self::assertSame($link, $this->ask('GET', $path, $this->keeper));
        $this->ask('GET', $path, $this->reader, null, 404);
        $this->ask('DELETE', $path, $this->keeper, null, 428);
        $this->ask('DELETE', $path, $this->keeper, null, 204, ['HTTP_IF_MATCH' => '"'.self::text($link, 'etag').'"']);
        self::assertSame([$gloss], $this->ask('GET', "/api/items/{$note}/links", $this->keeper)['out']);
        self::assertSame($link, $this->ask('POST', $path.'/restore', $this->keeper));
        // With one end gone, the link is gone.
        $item = $this->ask('GET', '/api/items/'.$other, $this->keeper);
        $this->ask('DELETE', '/api/items/'.$other, $this->keeper, null, 204, ['HTTP_IF_MATCH' => '"'.self::text($item, 'etag').'"']);
        self::assertSame([$gloss], $this->ask('GET', "/api/items/{$note}/links", $this->keeper)['out']);
        $this->ask('GET', $path, $this->keeper, null, 404);
    }

    public function testTagsAreRenamedMergedAndReported(): void
    {
        $dossier = $this->dossier('Seal and maker');
        $this->make(['title' => 'a', 'tags' => ['seal', 'stern seal'], 'dossiers' => [$dossier]]);
        $this->make(['title' => 'b', 'tags' => ['stern seal']]);
        $tags = array_column(self::rows($this->ask('GET', '/api/tags', $this->keeper), 'items'), null, 'name');
        self::assertSame([1, 2], [$tags['seal']['count'], $tags['stern seal']['count']]);
        self::assertSame([], $this->ask('GET', '/api/tags', $this->reader)['items']);
        $this->ask('GET', '/api/tags/seal', $this->reader, null, 404);
        $etag = ['HTTP_IF_MATCH' => '"'.self::text($tags['stern seal'], 'etag').'"'];
        $this->ask('PATCH', '/api/tags/stern%20seal', $this->keeper, ['kind' => 'theme'], 428);
        $tag = $this->ask('PATCH', '/api/tags/stern%20seal', $this->keeper,
            ['name' => 'Seal 400', 'kind' => 'theme', 'parent' => 'seal'], 200, $etag);
        self::assertSame(['Seal 400', 'theme', 'seal', 2], [$tag['name'], $tag['kind'], $tag['parent'], $tag['count']]);
        $this->ask('PATCH', '/api/tags/Seal%20400', $this->keeper, ['kind' => 'own'], 412, $etag);
        $top = $this->ask('GET', '/api/tags/seal', $this->keeper);
        $match = ['HTTP_IF_MATCH' => '"'.self::text($top, 'etag').'"'];
        $this->ask('PATCH', '/api/tags/seal', $this->keeper, ['parent' => 'Seal 400'], 409, $match);
        $this->ask('PATCH', '/api/tags/seal', $this->keeper, ['name' => 'Seal 400'], 409, $match);
        $this->ask('PATCH', '/api/tags/seal', $this->keeper, ['name' => 'a/b'], 422, $match);
        $report = $this->ask('GET', '/api/tags/seal/report', $this->keeper);
        $groups = self::rows($report, 'groups');
        self::assertSame([$dossier, null], array_column($groups, 'dossier'));
        self::assertSame([['a'], ['b']],
            array_map(static fn (array $group): array => array_column(self::rows($group, 'items'), 'title'), $groups));
        $this->ask('POST', '/api/tags/seal/merge', $this->keeper, ['into' => 'seal'], 422);
        self::assertSame(2, $this->ask('POST', '/api/tags/seal/merge', $this->keeper, ['into' => 'Seal 400'])['count']);
        $this->ask('GET', '/api/tags/seal', $this->keeper, null, 404);
        self::assertSame([['Seal 400'], ['Seal 400']],
            array_column(self::rows($this->ask('GET', '/api/items', $this->keeper), 'items'), 'tags'));
    }

    public function testToDosOfAllNotesAreOneList(): void
    {
        $item = $this->make(['title' => 'n', 'note' => "- [ ] ask the mate\n```\n- [ ] no box\n```\n* [x] read the log"]);
        $code = self::text($item, 'code');
        $todo = static fn (string $text, int $line, bool $done): array => ['item' => $code, 'text' => $text, 'line' => $line,
            'done' => $done];
        $all = fn (string $query): mixed => $this->ask('GET', '/api/todos?'.$query, $this->keeper)['items'];
        self::assertSame([$todo('ask the mate', 1, false), $todo('read the log', 5, true)], $all('limit=5'));
        self::assertSame([$todo('ask the mate', 1, false)], $all('open=true'));
        self::assertSame([], $this->ask('GET', '/api/todos', $this->reader)['items']);
        $this->ask('POST', '/api/todos', $this->keeper, $todo('ask the mate', 1, true));
        self::assertSame([], $all('open=true'));
        $now = $this->ask('GET', '/api/items/'.$code, $this->keeper);
        self::assertStringStartsWith('- [x] ask the mate', self::text($now, 'note'));
        $this->ask('POST', '/api/todos', $this->keeper, $todo('ask the cook', 1, true), 409);
        $this->ask('POST', '/api/todos', $this->keeper, ['item' => $code], 422);
        $this->patch($now, ['note' => '']);
        self::assertSame([], $all('open=false'));
        $this->ask('GET', '/api/todos?open=x', $this->keeper, null, 400);
    }

    public function testWhoSeesAnItem(): void
    {
        $other = $this->token('Someone Else', Role::Keeper);
        $custodian = $this->token('Tomas Okoye', Role::Custodian);
        $item = $this->make(['title' => 'mine', 'tags' => ['secret word'], 'note' => '- [ ] x']);
        $code = self::text($item, 'code');
        $private = $this->dossier('Private');
        $open = $this->dossier('Open', ['open' => 'all']);
        self::assertSame([true, false, true],
            [$this->sees($code, $this->keeper), $this->sees($code, $other), $this->sees($code, $custodian)]);
        $item = $this->patch($item, ['dossiers' => [$private]]);
        self::assertSame([true, false, true],
            [$this->sees($code, $this->keeper), $this->sees($code, $other), $this->sees($code, $custodian)]);
        $this->ask('GET', '/api/items/'.$code, $other, null, 404);
        $item = $this->patch($item, ['dossiers' => [$private, $open]]);
        self::assertTrue($this->sees($code, $other));
        self::assertSame([$open], $this->ask('GET', '/api/items/'.$code, $other)['dossiers'], 'Of the other nothing is told.');
        self::assertSame([$code], array_column(self::rows($this->ask('GET', '/api/todos', $other), 'items'), 'item'));
        $this->ask('PATCH', '/api/items/'.$code, $other, ['title' => 'x'], 403, ['HTTP_IF_MATCH' => '"'.self::text($item, 'etag').'"']);
        $child = self::text($this->make(['title' => 'below', 'parent' => $code]), 'code');
        self::assertTrue($this->sees($child, $other), 'It is seen as the one above.');
        $item = $this->patch($this->ask('GET', '/api/items/'.$code, $this->keeper), ['confidential' => true]);
        self::assertSame([true, false, false], [
            $this->sees($code, $this->keeper), $this->sees($code, $other), $this->sees($child, $other),
        ]);
        $item = $this->patch($item, ['confidential' => false, 'dossiers' => [$private]]);
        self::assertSame([false, false], [$this->sees($code, $other), $this->sees($child, $other)]);
        self::assertSame([], $this->ask('GET', '/api/tags', $other)['items']);
        $dossier = $this->ask('GET', '/api/dossiers/'.$private, $this->keeper);
        $this->ask(
            'PATCH', '/api/dossiers/'.$private, $this->keeper, ['people' => ['Someone Else' => 'reader']], 200,
            ['HTTP_IF_MATCH' => '"'.self::text($dossier, 'etag').'"'],
        );
        self::assertTrue($this->sees($code, $other));
        // With its dossier it goes, and comes back.
        $dossier = $this->ask('GET', '/api/dossiers/'.$private, $this->keeper);
        $this->ask('DELETE', '/api/dossiers/'.$private, $this->keeper, null, 204,
            ['HTTP_IF_MATCH' => '"'.self::text($dossier, 'etag').'"']);
        foreach ([$this->keeper, $other, $custodian] as $token) {
            self::assertSame([false, false], [$this->sees($code, $token), $this->sees($child, $token)]);
            self::assertSame([], $this->ask('GET', '/api/todos', $token)['items']);
        }
        $this->ask('POST', "/api/dossiers/{$private}/restore", $this->keeper);
        self::assertSame([true, true, true], [$this->sees($code, $this->keeper), $this->sees($code, $other), $this->sees($child, $other)]);
    }

    public function testAnItemDoesNotOpenItsConfidentialCapture(): void
    {
        $capture = $this->capture();
        $other = $this->token('Someone Else', Role::Keeper);
        $open = $this->dossier('Open', ['open' => 'all']);
        $item = $this->make(['title' => 'The notice', 'subject' => ['capture' => $capture->code], 'dossiers' => [$open]]);
        self::service(CaptureLimits::class)->say(new Actor('Ilse Varga'), $capture, true);
        $seen = $this->ask('GET', '/api/items/'.self::text($item, 'code'), $other);
        self::assertSame([], $seen['subject']);
        $this->ask('GET', '/api/captures/'.$capture->code, $other, null, 404);
        self::assertSame([], $this->ask('GET', '/api/items?capture='.$capture->code, $other)['items']);
        // Nor does whoever does not see it open it by laying it into a dossier of their own.
        $own = self::text($this->ask('POST', '/api/dossiers', $other, ['name' => 'Own'], 201), 'code');
        $this->ask('POST', '/api/items/batch', $other, ['codes' => [$item['code']], 'set' => ['addDossiers' => [$own]]], 403);
        $this->ask('POST', '/api/items', $other, ['subject' => ['capture' => $capture->code]], 422);
        $dossier = $this->ask('GET', '/api/dossiers/'.$open, $this->keeper);
        $this->ask(
            'PATCH', '/api/dossiers/'.$open, $this->keeper, ['people' => ['Someone Else' => 'reader']], 200,
            ['HTTP_IF_MATCH' => '"'.self::text($dossier, 'etag').'"'],
        );
        $this->ask('GET', '/api/captures/'.$capture->code, $other);
        self::assertSame(['capture' => $capture->code], $this->ask('GET', '/api/items/'.self::text($item, 'code'), $other)['subject']);
    }

    public function testDossiersAreMovedAndCopied(): void
    {
        $root = $this->dossier('Inquiry', ['fields' => [['name' => 'ship', 'type' => 'text']], 'note' => 'Begin here']);
        [$a, $b, $c] = array_map(fn (string $name): string => $this->dossier($name, ['parent' => $root]), ['A', 'B', 'C']);
        $this->make(['title' => 'standing note', 'dossiers' => [$b], 'note' => 'ask']);
        $this->ask('POST', "/api/dossiers/{$c}/move", $this->keeper, ['before' => $a]);
        $this->ask('POST', "/api/dossiers/{$root}/move", $this->keeper, ['parent' => $a], 409);
        $this->ask('POST', "/api/dossiers/{$a}/move", $this->keeper, [], 422);
        $inner = $this->ask('POST', "/api/dossiers/{$b}/move", $this->keeper, ['parent' => $c]);
        self::assertSame($c, $inner['parent']);
        self::assertCount(1, self::rows($this->ask('GET', '/api/items?within='.$root, $this->keeper), 'items'));
        self::assertCount(0, self::rows($this->ask('GET', '/api/items?within='.$a, $this->keeper), 'items'));
        self::assertCount(1, self::rows($this->ask('GET', '/api/items?within='.$c, $this->keeper), 'items'));
        $copy = $this->ask('POST', "/api/dossiers/{$root}/copy", $this->keeper, ['name' => 'Another'], 201);
        self::assertSame(['Another', $root, 'Begin here', [['name' => 'ship', 'type' => 'text']]], [
            $copy['name'], $copy['template'], $copy['note'], $copy['fields'],
        ]);
        $names = fn (): array => array_count_values(array_filter(array_column(
            self::rows($this->ask('GET', '/api/dossiers?limit=200', $this->keeper), 'items'), 'name',
        ), \is_string(...)));
        self::assertEquals(['Inquiry' => 1, 'A' => 2, 'B' => 2, 'C' => 2, 'Another' => 1], $names());
        self::assertCount(0, self::rows($this->ask('GET', '/api/items?within='.self::text($copy, 'code'), $this->keeper), 'items'));
        $full = $this->ask('POST', "/api/dossiers/{$root}/copy", $this->keeper, ['items' => true, 'parent' => null], 201);
        $items = self::rows($this->ask('GET', '/api/items?within='.self::text($full, 'code'), $this->keeper), 'items');
        self::assertSame(['standing note'], array_column($items, 'title'));
        $made = $this->ask('POST', '/api/dossiers', $this->keeper, ['name' => 'By template', 'template' => $root], 201);
        self::assertSame([['name' => 'ship', 'type' => 'text']], $made['fields']);
        self::assertSame(4, $names()['A']);
        foreach ([
            '/fields/0/type' => [['name' => 'x', 'type' => 'colour']],
            '/fields/1/name' => [['name' => 'x', 'type' => 'text'], ['name' => 'x', 'type' => 'text']],
            '/fields/0/choices' => [['name' => 'x', 'type' => 'choice']], '/fields/0' => ['x'],
        ] as $pointer => $fields) {
            $said = $this->ask('POST', '/api/dossiers', $this->keeper, ['name' => 'x', 'fields' => $fields], 422);
            self::assertSame([$pointer], array_column(self::rows($said, 'errors'), 'pointer'));
        }
    }

    public function testTheChronologyOfADossierHasWhatWasWhenAndHowSureThatIs(): void
    {
        $outer = $this->dossier('Stern door', ['fields' => [['name' => 'date', 'type' => 'date']]]);
        $inner = $this->dossier('Inspections', ['parent' => $outer]);
        foreach ([
            ['held', $outer, '2024-11-08'], ['fitted', $inner, '2021~'], ['known before', $outer, '../2024-11-08'],
            ['asked', $inner, '2024-11/2025-02'],
            ['without', $outer, null], ['said', $outer, '2024-11-09?'],
        ] as [$title, $dossier, $date]) {
            $this->make(['title' => $title, 'dossiers' => [$dossier],
                'fields' => null === $date ? new \stdClass() : ['date' => $date, 'told on' => '2025-01']]);
        }
        $this->signIn('Ilse Varga', Role::Keeper);
        $this->get('/dossiers/'.$outer.'/chronology');
        $rows = $this->client->getCrawler()->filter('.chronicle li')->each(
            static fn ($row): string => trim((string) preg_replace('/\s+/', ' ', $row->text())),
        );
        self::assertSame([
            'between 2021-01-01 and 2021-12-31, about fitted', '2024-11-01 to 2025-02-28 asked', '2024-11-08 held',
            'until 2024-11-08 known before',
            '2024-11-09, not certain said',
        ], $rows);
        $this->get('/dossiers/'.$outer.'/chronology?field=told+on');
        self::assertCount(5, $this->client->getCrawler()->filter('.chronicle li'));
        $this->get('/dossiers/'.$inner.'/chronology');
        self::assertCount(2, $this->client->getCrawler()->filter('.chronicle li'));
        $this->signIn('Nerys Quill', Role::Reader);
        $this->get('/dossiers/'.$outer.'/chronology');
        self::assertSame(404, $this->answered());
    }

    public function testWhatAPersonBringsInWaitsInTheirIntakeOnceForEachAct(): void
    {
        $capture = $this->capture();
        $this->person('Ilse Varga', Role::Keeper);
        $events = self::service(EventDispatcherInterface::class);
        foreach ([1, 2] as $twice) {
            $events->dispatch(new BroughtIn('Ilse Varga', 'job:222222222222', capture: $capture->code));
            $events->dispatch(new BroughtIn('Ilse Varga', 'site:222222222222', 'The operator', url: 'http://lantern.test/'));
            $events->dispatch(new BroughtIn('Ilse Varga', 'list:222222222222', 'Twenty pages', tags: ['list']));
            $events->dispatch(new BroughtIn('Nobody at all', 'job:222222222223', 'x'));
        }
        $waiting = self::rows($this->ask('GET', '/api/items?sorted=false&order=oldest', $this->keeper), 'items');
        self::assertSame(
            [['capture', 'Notice'], ['address', 'The operator'], ['note', 'Twenty pages']],
            array_map(static fn (array $one): array => [$one['kind'], $one['title']], $waiting),
        );
        $viewer = Viewer::person('Ilse Varga', Role::Keeper);
        $intake = self::service(Intake::class);
        self::assertSame(3, self::service(ItemRepository::class)->waiting($viewer));
        $first = $intake->waiting($viewer)[0];
        self::assertSame('Notice', $first->title);
        self::assertSame('The operator', $intake->waiting($viewer, $first->id())[0]->title);
        self::assertSame([], $intake->waiting(Viewer::person('Someone Else', Role::Keeper)));
        // What is written beside the capture while it waits is the item's, too; what somebody has sorted is left.
        $write = static function (string $title) use ($capture): void {
            self::service(CaptureDescriptions::class)->writeOf(
                new Actor('Ilse Varga'), $capture->code, new CaptureDescription($title, 'Why not', ['stern door']), false,
            );
        };
        $write('The first notice');
        $item = $this->ask('GET', '/api/items/'.$first->code, $this->keeper);
        self::assertSame(['The first notice', 'Why not', ['stern door']], [$item['title'], $item['summary'], $item['tags']]);
        $this->patch($item, ['sorted' => true]);
        $write('Another title');
        self::assertSame('The first notice', $this->ask('GET', '/api/items/'.$first->code, $this->keeper)['title']);
    }

    public function testItemsAreGivenOutAndTakenBackWithoutDoubling(): void
    {
        $dossier = $this->dossier('Out and in');
        $token = $this->token('Ilse Varga', Role::Keeper, [Scope::Read, Scope::Write, Scope::Export]);
        $top = $this->make([
            'title' => '=HYPERLINK("http://evil.test/")', 'note' => "two\nlines, \"quoted\"", 'tags' => ['a, b', "'x"],
            'dossiers' => [$dossier],
            'fields' => ['where' => ['latitude' => 51.5, 'longitude' => -3.0], 'n' => ['value' => 1, 'unit' => 'm']], 'due' => '2026-12-24',
        ]);
        $this->make(['title' => "'-2", 'summary' => '+ and @', 'parent' => $top['code'], 'important' => true]);
        $this->make(['title' => 'Δόμος 港', 'subject' => ['url' => 'http://lantern.test/a']]);
        $before = $this->ask('GET', '/api/items?order=oldest', $this->keeper)['items'];
        self::assertIsArray($before);
        $this->ask('GET', '/api/items.csv', $this->keeper, null, 403);
        $files = [];
        foreach (['json' => 'application/json', 'csv' => 'text/csv'] as $form => $type) {
            $this->client->request('GET', '/api/items.'.$form.'?order=newest', server: ['HTTP_AUTHORIZATION' => 'Bearer '.$token]);
            self::assertSame(200, $this->answered());
            $files[$form] = [$type, $this->client->getInternalResponse()->getContent()];
        }
        self::assertStringContainsString('"\'=HYPERLINK(', $files['csv'][1], 'No spreadsheet takes it for a formula.');
        self::assertEquals(['items' => array_reverse($before)], json_decode($files['json'][1], true));
        $import = function (string $type, string $body, int $status = 200, string $query = ''): array {
            $this->raw('POST', '/api/items/import'.$query, $this->keeper, $body, ['CONTENT_TYPE' => $type], $status);
            /** @var array<string, mixed> $said */
            $said = json_decode($this->body(), true);

            return $said;
        };
        $code = self::text($top, 'code');
        foreach ($files as [$type, $body]) {
            self::assertSame(['made' => 0, 'left' => 3, 'replaced' => 0], $import($type, $body));
            // What differs is told, and written over if that is wanted.
            $now = $this->ask('GET', '/api/items/'.$code, $this->keeper);
            $this->patch($now, ['title' => 'Changed', 'fields' => ['more' => 'x'], 'tags' => []]);
            self::assertSame([$code], $import($type, $body, 409)['items']);
            self::assertSame(['made' => 0, 'left' => 2, 'replaced' => 1], $import($type, $body, 200, '?replace=true'));
            // What is gone comes back under its code, and lies where it lay.
            $now = $this->ask('GET', '/api/items/'.$code, $this->keeper);
            $this->ask('DELETE', '/api/items/'.$code, $this->keeper, null, 204, ['HTTP_IF_MATCH' => '"'.self::text($now, 'etag').'"']);
            self::assertSame(3, array_sum($import($type, $body)));
            $plain = static fn (mixed $items): array => array_map(
                static fn (mixed $one): mixed => \is_array($one) ? array_diff_key($one, ['changedAt' => 0, 'etag' => 0]) : $one,
                \is_array($items) ? $items : [],
            );
            self::assertEquals($plain($before), $plain($this->ask('GET', '/api/items?order=oldest', $this->keeper)['items']));
        }
        // Nothing is half done.
        $new = [['code' => '333333333333', 'title' => 'new'], ['code' => '333333333334', 'title' => 5]];
        self::assertSame('/1/title', self::rows($import('application/json', (string) json_encode($new), 422), 'errors')[0]['pointer']);
        $this->ask('GET', '/api/items/333333333333', $this->keeper, null, 404);
        self::assertSame(['made' => 1, 'left' => 0, 'replaced' => 0], $import('application/json', (string) json_encode([$new[0]])));
        self::assertSame('new', $this->ask('GET', '/api/items/333333333333', $this->keeper)['title']);
        foreach (['[{', '{"items": 5}', 'x', '[{"code": "x"}]'] as $bad) {
            $import('application/json', $bad, 422);
        }
        $import('text/csv', "a,b\n1,2\n", 422);
        $import('text/csv', "code,title\n333333333335\n", 422);
        $import('text/plain', 'x', 415);
        $import('application/json', '[]', 400, '?replace=perhaps');
        // Others are told nothing of what they do not see: it is made anew under another code.
        $other = $this->token('Someone Else', Role::Keeper);
        $this->raw('POST', '/api/items/import', $other, (string) json_encode([$new[0]]), self::JSON, 200);
        self::assertNotSame('333333333333', self::rows($this->ask('GET', '/api/items', $other), 'items')[0]['code']);
    }

    /** @phpstan-impure */
    private function sees(string $code, string $token): bool
    {
        return \in_array($code, array_column(self::rows($this->ask('GET', '/api/items?limit=200', $token), 'items'), 'code'), true);
    }

    /**
     * @param array<string, mixed> $body
     *
     * @return array<string, mixed>
     */
    private function make(array $body): array
    {
        return $this->ask('POST', '/api/items', $this->keeper, $body, 201);
    }

    /** @param array<string, mixed> $more */
    private function dossier(string $name, array $more = []): string
    {
        return self::text($this->ask('POST', '/api/dossiers', $this->keeper, ['name' => $name] + $more, 201), 'code');
    }

    /**
     * @param array<string, mixed> $item
     * @param array<string, mixed> $body
     *
     * @return array<string, mixed>
     */
    private function patch(array $item, array $body, int $status = 200): array
    {
        return $this->ask('PATCH', '/api/items/'.self::text($item, 'code'), $this->keeper, $body, $status, [
            'HTTP_IF_MATCH' => '"'.self::text($item, 'etag').'"',
        ]);
    }

    /** @param array<string, mixed> $body */
    private function move(string $code, array $body): void
    {
        $this->ask('POST', "/api/items/{$code}/move", $this->keeper, $body);
    }

    private function capture(): Capture
    {
        $this->takeIn((new WarcBuilder('f'))->exchange(self::PAGE, '2024-11-03T10:00:00Z', '<title>Notice</title><p>Held'));

        return $this->captureOf(self::PAGE);
    }

    /**
     * @param array<string, mixed> $said
     *
     * @return array<string, mixed>
     */
    private static function map(array $said, string $name): array
    {
        self::assertIsArray($said[$name] ?? null);

        /** @var array<string, mixed> */
        return $said[$name];
    }

    /**
     * @param array<string, mixed> $said
     *
     * @return list<array<string, mixed>>
     */
    private static function rows(array $said, string $name): array
    {
        self::assertIsArray($said[$name] ?? null);

        /** @var list<array<string, mixed>> */
        return $said[$name];
    }
}
