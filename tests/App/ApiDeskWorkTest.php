<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Symfony\Component\HttpFoundation\File\UploadedFile;
use Ypomna\App\Desk\Attachments;
use Ypomna\App\People\Value\Scope;
use Ypomna\App\Shared\Role;

/** What lies around items and dossiers, as programs work with it. */
final class ApiDeskWorkTest extends ApiTestCase
{
    private const PIECE = ['CONTENT_TYPE' => 'application/offset+octet-stream'];
    private const PATCH = ['CONTENT_TYPE' => 'application/merge-patch+json'];

    public function testAFileIsLaidBesideAnItemReadAndTakenAway(): void
    {
        $item = $this->item(['title' => 'Of the door']);
        $file = $this->attach($item, 'plan.txt', 'where it stands');
        self::assertSame(hash('sha256', 'where it stands'), $file['sha256']);
        self::assertSame(['plan.txt', 'Ilse Varga'], [$file['name'], $file['addedBy']]);
        $path = '/api/attachments/'.self::text($file, 'code');
        self::assertSame($file, $this->ask('GET', $path, $this->keeper));
        self::assertEquals([$file], $this->ask('GET', "/api/items/{$item}/attachments", $this->keeper)['items'] ?? null);
        $export = $this->token('Ilse Varga', Role::Keeper, Scope::cases());
        ob_start();
        $this->raw('GET', $path.'/file', $export, '', [], 200);
        ob_end_clean();
        self::assertStringStartsWith('attachment;', $this->header('Content-Disposition'));
        $this->ask('DELETE', $path, $this->keeper, status: 428);
        $etag = ['HTTP_IF_MATCH' => '"'.self::text($file, 'etag').'"'];
        $this->ask('DELETE', $path, $this->reader, status: 403, fields: $etag);
        $this->ask('DELETE', $path, $this->keeper, status: 204, fields: $etag);
        $this->ask('GET', $path, $this->keeper, status: 404);
        $this->ask('POST', $path.'/restore', $this->keeper);
        $this->ask('GET', $path, $this->keeper);
        // Who does not see the item does not see its files.
        $hidden = $this->attach($this->item(['title' => 'Hidden', 'confidential' => true]), 'a.txt', 'x');
        foreach (['', '/file'] as $what) {
            $this->ask('GET', '/api/attachments/'.self::text($hidden, 'code').$what, $this->token('Someone Else', Role::Keeper,
                Scope::cases()), status: 404);
        }
        $this->raw('POST', "/api/items/{$item}/attachments", $this->keeper, '{}', self::JSON, 415);
    }

    public function testARecordingComesInPiecesAndIsMarked(): void
    {
        $begun = $this->ask('POST', '/api/recordings', $this->keeper, ['title' => 'At the quay'], 201);
        $code = self::text($begun, 'code');
        self::assertNull($begun['sha256']);
        $path = '/api/recordings/'.$code;
        $this->raw('PATCH', $path, $this->keeper, 'abc', self::PIECE + ['HTTP_UPLOAD_OFFSET' => '0'], 204);
        self::assertSame('3', $this->header('Upload-Offset'));
        $this->raw('PATCH', $path, $this->keeper, 'abc', self::PIECE + ['HTTP_UPLOAD_OFFSET' => '0'], 409);
        self::assertSame('3', $this->header('Upload-Offset'));
        $this->raw('PATCH', $path, $this->keeper, 'def', self::PIECE + ['HTTP_UPLOAD_OFFSET' => '3'], 204);
        $this->ask('POST', $path.'/end', $this->keeper, ['marks' => [['at' => -1]]], 422);
        $ended = $this->ask('POST', $path.'/end', $this->keeper, ['marks' => [['at' => 2.5, 'text' => 'the horn'], ['at' => 1]]]);
        self::assertSame(hash('sha256', 'abcdef'), $ended['sha256']);
        self::assertEquals([['at' => 1, 'text' => ''], ['at' => 2.5, 'text' => 'the horn']], $ended['marks']);
        $this->raw('PATCH', $path, $this->keeper, 'x', self::PIECE + ['HTTP_UPLOAD_OFFSET' => '6'], 409);
        // Who ends it a second time finds it ended.
        self::assertSame($ended['sha256'], $this->ask('POST', $path.'/end', $this->keeper, [])['sha256'] ?? null);
        $changed = $this->ask('PATCH', '/api/attachments/'.$code, $this->keeper, ['marks' => []], 200, self::PATCH
            + ['HTTP_IF_MATCH' => '"'.self::text($ended, 'etag').'"']);
        self::assertSame([], $changed['marks']);
        self::assertSame('recording', $this->ask('GET', '/api/items/'.self::text($ended, 'item'), $this->keeper)['kind'] ?? null);
        $other = $this->token('Someone Else', Role::Keeper);
        $this->ask('POST', $path.'/end', $other, [], 404);
    }

    public function testAFindingAidIsMadeReadAndDeleted(): void
    {
        $dossier = self::text($this->ask('POST', '/api/dossiers', $this->keeper, ['name' => 'Ferry'], 201), 'code');
        $item = $this->item(['title' => 'Notice', 'dossiers' => [$dossier], 'fields' => ['1' => 'x'], 'tags' => ['doors']]);
        foreach ([[], ['title' => 'x'], ['title' => 'x', 'dossier' => $dossier, 'items' => [$item]], ['title' => 'x', 'items' => []],
            ['title' => 'x', 'items' => ['222222222222']], ['title' => ' ', 'dossier' => $dossier]] as $wrong) {
            $this->ask('POST', '/api/aids', $this->keeper, $wrong, 422);
        }
        $fixed = $this->ask('POST', '/api/aids', $this->keeper, ['title' => 'Of the ferry', 'dossier' => $dossier, 'fixed' => true], 201);
        self::assertSame([true, 64], [$fixed['fixed'], \strlen(self::text($fixed, 'sha256'))]);
        $this->ask('POST', '/api/aids', $this->keeper, ['title' => 'Chosen', 'items' => [$item]], 201);
        $path = '/api/aids/'.self::text($fixed, 'code');
        $read = $this->ask('GET', $path, $this->keeper);
        self::assertIsArray($read['entries']);
        self::assertCount(1, $read['entries']);
        $this->raw('GET', $path.'/ead.xml', $this->token('Ilse Varga', Role::Keeper, Scope::cases()), '', [], 200);
        self::assertStringContainsString('Of the ferry', $this->body());
        $lists = [$this->ask('GET', '/api/aids?dossier='.$dossier, $this->keeper), $this->ask('GET', '/api/aids', $this->keeper)];
        self::assertSame([1, 2], array_map(static fn (array $one): int => \count((array) $one['items']), $lists));
        $this->ask('DELETE', $path, $this->token('Someone Else', Role::Keeper), status: 404);
        $this->ask('DELETE', $path, $this->keeper, status: 204);
        $this->ask('GET', $path, $this->keeper, status: 404);
    }

    public function testWaysToLookAreSavedAndItsFieldsAreToldTogether(): void
    {
        $dossier = self::text($this->ask('POST', '/api/dossiers', $this->keeper, [
            'name' => 'Ferry', 'fields' => [['name' => 'when', 'type' => 'date'], ['name' => 'fare', 'type' => 'number']], 'open' => 'all',
        ], 201), 'code');
        $one = $this->item(['title' => 'First', 'dossiers' => [$dossier], 'fields' => [
            'when' => '2024-11', 'fare' => ['value' => 2, 'unit' => 'km'], 'at' => ['name' => 'Quay', 'latitude' => 1.5, 'longitude' => 2],
        ]]);
        $this->item(['title' => 'Second', 'dossiers' => [$dossier], 'fields' => ['when' => '2024-10-02~', 'fare' => ['value' => 500,
            'unit' => 'm']]]);
        $base = '/api/dossiers/'.$dossier;
        $this->ask('POST', $base.'/views', $this->keeper, ['name' => 'x', 'view' => ['look' => 'shelf']], 422);
        $this->ask('POST', $base.'/views', $this->keeper, ['name' => 'x', 'view' => ['columns' => ['nothing']]], 422);
        $this->ask('POST', $base.'/views', $this->keeper, ['name' => ' '], 422);
        $saved = $this->ask('POST', $base.'/views', $this->keeper, ['name' => 'By fare', 'forAll' => true, 'view' => [
            'look' => 'wall', 'columns' => ['tags', 'f.fare'], 'dueBefore' => '2026-12-24',
        ]], 201);
        $view = $base.'/views/'.self::text($saved, 'code');
        self::assertSame($saved, $this->ask('GET', $view, $this->reader));
        self::assertIsArray($saved['view']);
        self::assertSame(['wall', '2026-12-24'], [$saved['view']['look'], $saved['view']['dueBefore']]);
        $this->ask('DELETE', $view, $this->token('Someone Else', Role::Keeper), status: 403);
        $this->ask('DELETE', $view, $this->keeper, status: 204);
        self::assertSame([], $this->ask('GET', $base.'/views', $this->keeper)['items'] ?? null);
        $fields = $this->ask('GET', $base.'/fields', $this->reader);
        self::assertSame(['when', 'fare', 'at'], array_column((array) $fields['fields'], 'name'));
        self::assertSame([2.5], array_column((array) (((array) (((array) $fields['fields'])[1] ?? []))['numbers'] ?? []), 'sum'));
        $told = $this->ask('GET', $base.'/chronology', $this->reader);
        self::assertSame('when', $told['field']);
        self::assertSame(
            [['2024-10-02~', true], ['2024-11', false]],
            array_map(static fn (mixed $entry): array => \is_array($entry) ? [$entry['date'], $entry['approximate']] : [],
                (array) $told['entries']),
        );
        self::assertSame($one, ((array) (((array) $told['entries'])[1] ?? []))['item'] ?? null);
    }

    public function testWhoDidWhatAndHowANoteReadBefore(): void
    {
        $item = $this->item(['title' => 'Of the door', 'note' => "one\ntwo\nthree"]);
        $path = '/api/items/'.$item;
        $saved = $this->ask('POST', $path.'/note', $this->keeper, ['base' => "one\ntwo\nthree", 'note' => "one\ntwo\nTHREE"]);
        self::assertSame([true, "one\ntwo\nTHREE"], [$saved['saved'], $saved['note']]);
        // Whoever began with the first text changed another line: both stay.
        $saved = $this->ask('POST', $path.'/note', $this->keeper, ['base' => "one\ntwo\nthree", 'note' => "ONE\ntwo\nthree"]);
        self::assertSame([true, "ONE\ntwo\nTHREE"], [$saved['saved'], $saved['note']]);
        $saved = $this->ask('POST', $path.'/note', $this->keeper, ['base' => "one\ntwo\nthree", 'note' => "one\ntwo\nfour"]);
        self::assertSame([false, "ONE\ntwo\nTHREE"], [$saved['saved'], $saved['theirs']]);
        $acts = $this->ask('GET', $path.'/acts?limit=1', $this->keeper);
        self::assertCount(1, (array) $acts['items']);
        $more = $this->ask('GET', (string) strstr(self::text($acts, 'next'), '/api/'), $this->keeper);
        self::assertNotSame($acts['items'], $more['items']);
        $versions = (array) $this->ask('GET', $path.'/versions', $this->keeper)['items'];
        $number = \is_array($versions[\count($versions) - 1] ?? null) ? $versions[\count($versions) - 1]['number'] : null;
        self::assertIsInt($number);
        self::assertIsString($this->ask('GET', "{$path}/versions/{$number}", $this->keeper)['note'] ?? null);
        $this->ask('POST', "{$path}/versions/{$number}/restore", $this->keeper, [], 428);
        $etag = self::text($this->ask('GET', $path, $this->keeper), 'etag');
        $this->ask('POST', "{$path}/versions/{$number}/restore", $this->keeper, [], 200, ['HTTP_IF_MATCH' => '"'.$etag.'"']);
        $this->ask('POST', "{$path}/versions/{$number}/restore", $this->keeper, [], 412, ['HTTP_IF_MATCH' => '"x"']);
        $dossier = self::text($this->ask('POST', '/api/dossiers', $this->keeper, ['name' => 'Ferry'], 201), 'code');
        self::assertNotSame([], $this->ask('GET', "/api/dossiers/{$dossier}/acts", $this->keeper)['items'] ?? []);
    }

    public function testWhatHangsTogetherAndTagsThatAreOfferedOrAlwaysOn(): void
    {
        $this->ask('PUT', '/api/me/tags', $this->keeper, ['tags' => ['a/b']], 422);
        $this->ask('PUT', '/api/me/tags', $this->keeper, [], 422);
        self::assertSame(['tags' => ['autumn']], $this->ask('PUT', '/api/me/tags', $this->keeper, ['tags' => ['autumn']]));
        self::assertSame(['tags' => ['autumn']], $this->ask('GET', '/api/me/tags', $this->keeper));
        self::assertSame(['tags' => []], $this->ask('GET', '/api/me/tags', $this->reader));
        $from = $this->item(['title' => 'From']);
        $to = $this->item(['title' => 'To']);
        $this->ask('POST', "/api/items/{$from}/links", $this->keeper, ['to' => $to, 'remark' => 'leads on'], 201);
        $ties = $this->ask('GET', "/api/items/{$from}/ties", $this->keeper);
        self::assertSame(['From', 'To'], array_column((array) $ties['things'], 'title'));
        self::assertSame([['from' => $from, 'to' => $to, 'kind' => 'link', 'words' => 'leads on']], $ties['ties']);
        $this->ask('GET', "/api/items/{$from}/suggestions", $this->keeper);
        self::assertSame(['To'], array_column((array) $this->ask('GET', '/api/items?words=to', $this->keeper)['items'], 'title'));
    }

    public function testADossierGoesOutAsAZipFileAndComesBack(): void
    {
        $dossier = self::text($this->ask('POST', '/api/dossiers', $this->keeper, ['name' => 'Ferry'], 201), 'code');
        $item = $this->item(['title' => 'Notice', 'dossiers' => [$dossier]]);
        $this->attach($item, 'plan.txt', 'where it stands');
        $all = $this->token('Ilse Varga', Role::Keeper, Scope::cases());
        ob_start();
        $this->client->request('GET', "/api/dossiers/{$dossier}/file.zip", server: ['HTTP_AUTHORIZATION' => 'Bearer '.$all]);
        $zip = (string) ob_get_clean();
        $zip = '' === $zip ? $this->client->getInternalResponse()->getContent() : $zip;
        self::assertStringStartsWith("PK\x03\x04", $zip);
        $this->raw('POST', '/api/items/import', $all, $zip, ['CONTENT_TYPE' => 'application/zip'], 200);
        self::assertSame(['made' => 0, 'left' => 1, 'replaced' => 0], json_decode($this->body(), true));
        $this->raw('POST', '/api/items/import', $all, 'PK nothing', ['CONTENT_TYPE' => 'application/zip'], 422);
    }

    /** @param array<string, mixed> $said */
    private function item(array $said): string
    {
        return self::text($this->ask('POST', '/api/items', $this->keeper, $said, 201), 'code');
    }

    /** @return array<string, mixed> */
    private function attach(string $item, string $name, string $bytes): array
    {
        ob_start();
        $this->client->request('POST', "/api/items/{$item}/attachments", [], [
            'file' => new UploadedFile($this->folder->file($name, $bytes), $name, null, null, true),
        ], ['HTTP_AUTHORIZATION' => 'Bearer '.$this->keeper, 'CONTENT_TYPE' => 'multipart/form-data; boundary=x']);
        ob_end_clean();
        self::assertSame(201, $this->answered(), $this->body());
        /** @var array<string, mixed> $said */
        $said = json_decode($this->body(), true);
        self::assertFileExists(self::service(Attachments::class)->path(
            self::service(Attachments::class)->byCode(self::text($said, 'code')) ?? throw new \LogicException(),
        ));

        return $said;
    }
}
