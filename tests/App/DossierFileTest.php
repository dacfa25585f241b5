<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Symfony\Component\HttpFoundation\File\UploadedFile;
use Ypomna\App\Desk\Attachments;
use Ypomna\App\Desk\DossierRepository;
use Ypomna\App\Desk\ItemRepository;
use Ypomna\App\Desk\Value\ItemQuery;
use Ypomna\App\People\Value\Scope;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\DataFolder;
use Ypomna\App\Shared\Role;
use Ypomna\App\Shared\Viewer;

/** A dossier with its structure as one file, and back; items as records of the Dublin Core. */
final class DossierFileTest extends ApiTestCase
{
    public function testADossierIsTakenAlongWithItsStructureAndBack(): void
    {
        [$outer, $inner, $item] = $this->things();
        $export = $this->token('Ilse Varga', Role::Keeper, [Scope::Read, Scope::Write, Scope::Export]);
        $this->raw('GET', '/api/dossiers/'.$outer.'/file', $export, '', [], 200);
        $file = $this->client->getInternalResponse()->getContent();
        $told = json_decode($file, true);
        self::assertIsArray($told);
        self::assertSame([$outer, $inner], array_column(\is_array($told['dossiers'] ?? null) ? $told['dossiers'] : [], 'code'));
        // Taken back where it is, nothing is made.
        self::assertSame(['made' => 0, 'left' => 2, 'replaced' => 0], $this->import($export, $file));
        // Somebody else, who does not see it, gets all of it under other codes.
        $other = $this->token('Bram Hollis', Role::Keeper, [Scope::Read, Scope::Write, Scope::Export]);
        self::assertSame(['made' => 2, 'left' => 0, 'replaced' => 0], $this->import($other, $file));
        $dossiers = self::service(DossierRepository::class)->all(Viewer::person('Bram Hollis', Role::Keeper));
        self::assertSame(['Stern door', 'Inner <b>'], array_map(static fn ($one): string => $one->name, $dossiers));
        self::assertSame($dossiers[0]->code, $dossiers[1]->parent?->code);
        self::assertNotSame($outer, $dossiers[0]->code);
        self::assertCount(1, $dossiers[0]->fields());
        $items = self::rows($this->ask('GET', '/api/items?within='.$dossiers[0]->code.'&order=title', $other), 'items');
        self::assertSame(['Above', 'Below'], array_column($items, 'title'));
        self::assertSame($items[0]['code'] ?? null, $items[1]['parent'] ?? null);
        self::assertNotSame($item, $items[0]['code'] ?? null);
    }

    public function testAttachmentsComeAlongInAZipAndBackWhereTheirBytesAreWhatTheyWere(): void
    {
        [$outer, , $item] = $this->things();
        $path = (string) tempnam(sys_get_temp_dir(), 'desk');
        file_put_contents($path, 'The log of 9 November');
        $entity = self::service(ItemRepository::class)->byCode(Viewer::system(), $item);
        self::assertNotNull($entity);
        $attachments = self::service(Attachments::class);
        $one = $attachments->add(new Actor('Ilse Varga'), $entity, $path, 'log.txt', 'text/plain');
        $attachments->mark($one, [['at' => 1.5, 'text' => 'here']]);
        $this->signIn('Ilse Varga', Role::Keeper);
        $zip = $this->file('/dossiers/'.$outer.'/file.zip');
        self::assertSame([], glob(self::service(DataFolder::class)->work('dossier-').'*'), 'Nothing of the work is left.');
        self::assertStringContainsString('No attachment is new', $this->upload($zip, 'a.zip'), 'It is there already.');
        // Somebody else has none of it yet.
        $this->signIn('Bram Hollis', Role::Keeper);
        self::assertStringContainsString('One attachment is new', $this->upload($zip, 'a.zip'));
        $items = self::service(ItemRepository::class)->list(Viewer::person('Bram Hollis', Role::Keeper), new ItemQuery(words: 'Above'));
        $there = $attachments->of($items[0] ?? $entity)[0] ?? null;
        self::assertSame(['log.txt', $one->sha256, 'Bram Hollis'], [$there?->name, $there?->sha256, $there?->person]);
        self::assertSame([['at' => 1.5, 'text' => 'here']], $there?->marks);
        // Other bytes under that checksum, none at all, and what is no ZIP file.
        foreach (['other bytes' => 'Its bytes are not', '' => 'Its bytes are missing'] as $bytes => $why) {
            $file = (string) tempnam(sys_get_temp_dir(), 'desk');
            file_put_contents($file, $zip);
            $archive = new \ZipArchive();
            $archive->open($file);
            $archive->deleteName('attachments/'.$one->sha256);
            if ('' !== $bytes) {
                $archive->addFromString('attachments/'.$one->sha256, $bytes);
            }
            $archive->close();
            $this->person('Nobody '.$bytes, Role::Keeper);
            $this->signIn('Nobody '.$bytes, Role::Keeper);
            self::assertStringContainsString($why, $this->upload((string) file_get_contents($file), 'a.zip'));
            self::assertSame(422, $this->answered());
        }
        self::assertStringContainsString('no ZIP file', $this->upload('PK no', 'a.zip'));
    }

    public function testWhatIsWrongInAFileIsToldAndNothingIsTakenIn(): void
    {
        [$outer] = $this->things();
        $this->signIn('Ilse Varga', Role::Keeper);
        $before = \count(self::service(DossierRepository::class)->all(Viewer::system()));
        foreach ([
            '{"dossiers":[{"code":"x"}],"items":[]}' => '/dossiers/0/code',
            '{"dossiers":[{"code":"222222222222","name":""}],"items":[]}' => '/dossiers/0/name',
            '{"dossiers":[{"code":"222222222222","name":"x","parent":"222222222223"}],"items":[]}' => '/dossiers/0/parent',
            '{"dossiers":[{"code":"222222222222","name":"x"}],"items":[{"code":"222222222224","kind":"list"}]}' => 'kind',
            '{"dossiers":[' => '/dossiers', '{}' => 'no list of items', '' => 'no list of items', "\xFF" => 'no list of items',
        ] as $file => $where) {
            self::assertStringContainsString($where, $this->upload($file, 'a.json'), $file);
            self::assertSame(422, $this->answered());
        }
        self::assertCount($before, self::service(DossierRepository::class)->all(Viewer::system()));
        $this->client->request('POST', '/desk/files', ['_token' => $this->formToken()]);
        self::assertSame(422, $this->answered());
        $file = $this->file('/dossiers/'.$outer.'/file.json');
        self::assertStringContainsString('2 were here as they are', $this->upload($file, 'a.json'));
        $this->upload(str_replace('"Above"', '"Above, otherwise"', $file), 'a.json');
        self::assertSame(409, $this->answered());
        self::assertStringContainsString('1 were written over', $this->upload(
            str_replace('"Above"', '"Above, otherwise"', $file), 'a.json', ['replace' => '1'],
        ));
        self::assertStringContainsString('2 were here as they are', $this->upload($this->file('/desk/items.csv'), 'A.CSV'));
    }

    public function testItemsAreRecordsOfTheDublinCore(): void
    {
        [$outer, , $item] = $this->things();
        $this->signIn('Ilse Varga', Role::Keeper);
        $xml = new \SimpleXMLElement($this->file('/dossiers/'.$outer.'/file.xml'));
        $records = $xml->children('oai_dc', true);
        self::assertCount(2, $records);
        $record = $records[0]?->children('dc', true);
        self::assertNotNull($record);
        self::assertSame('Above', (string) $record->title);
        self::assertSame(['a & b', 'said'], array_map(strval(...), iterator_to_array($record->subject, false)));
        self::assertStringEndsWith('/items/'.$item, (string) $record->identifier);
        self::assertSame('Ilse Varga', (string) $record->creator);
        self::assertSame('Inner <b>', (string) $record->relation);
        self::assertSame('Short  text', (string) $record->description, 'What XML has no sign for is left out.');
        self::assertNotFalse(simplexml_load_string($this->file('/desk/items.xml')));
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

    /** @return array{string, string, string} */
    private function things(): array
    {
        $outer = self::text($this->ask('POST', '/api/dossiers', $this->keeper, [
            'name' => 'Stern door', 'note' => '# Of it', 'fields' => [['name' => 'date', 'type' => 'date']],
        ], 201), 'code');
        $inner = self::text($this->ask('POST', '/api/dossiers', $this->keeper, ['name' => 'Inner <b>', 'parent' => $outer], 201), 'code');
        $item = self::text($this->ask('POST', '/api/items', $this->keeper, [
            'kind' => 'note', 'title' => 'Above', 'dossiers' => [$inner], 'tags' => ['said', 'a & b'], 'summary' => "Short \u{B} text",
            'fields' => ['date' => '2024-11~'],
        ], 201), 'code');
        $this->ask('POST', '/api/items', $this->keeper, [
            'kind' => 'note', 'title' => 'Below', 'dossiers' => [$outer], 'parent' => $item,
        ], 201);

        return [$outer, $inner, $item];
    }

    /** @return array<array-key, mixed> */
    private function import(string $token, string $file): array
    {
        $this->raw('POST', '/api/items/import', $token, $file, ['CONTENT_TYPE' => 'application/json'], 200);
        $said = json_decode($this->body(), true);

        return \is_array($said) ? $said : [];
    }

    private function formToken(): string
    {
        $this->get('/desk/files');

        return (string) $this->client->getCrawler()->filter('form[enctype] [name=_token]')->attr('value');
    }

    /** @param array<string, string> $more */
    private function upload(string $file, string $name, array $more = []): string
    {
        $path = (string) tempnam(sys_get_temp_dir(), 'desk');
        file_put_contents($path, $file);
        $this->client->request(
            'POST', '/desk/files', ['_token' => $this->formToken()] + $more, ['file' => new UploadedFile($path, $name, null, null, true)],
        );
        unlink($path);

        return $this->body();
    }

    private function file(string $path): string
    {
        $this->client->request('GET', $path);
        self::assertSame(200, $this->answered());

        return $this->client->getInternalResponse()->getContent();
    }
}
