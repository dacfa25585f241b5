<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Doctrine\DBAL\Connection;
use Symfony\Component\HttpFoundation\File\UploadedFile;
use Ypomna\App\Desk\Attachments;
use Ypomna\App\Desk\CannotChange;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\ItemRepository;
use Ypomna\App\Desk\ItemTemplates;
use Ypomna\App\Desk\Value\Attachment;
use Ypomna\App\Exchange\Verifier;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Role;
use Ypomna\App\Shared\Viewer;
use Ypomna\App\Store\MirroredLedger;

/** Files that belong to items, and spoken notes that come piece by piece. */
final class AttachmentTest extends ApiTestCase
{
    private const PAGE = '<html><script>alert(1)</script></html>';

    public function testAFileIsKeptUnderItsChecksumAndGivenOutAsNoPageOfOurs(): void
    {
        $item = $this->item('Of the door');
        $this->signIn('Ilse Varga', Role::Keeper);
        $this->attach($item, ['../../evil<b>.html' => self::PAGE, 'again.txt' => self::PAGE]);
        self::assertSame(303, $this->answered());
        [$one, $two] = $this->of($item);
        self::assertSame([hash('sha256', self::PAGE), \strlen(self::PAGE)], [$one->sha256, $one->bytes]);
        $attachments = self::service(Attachments::class);
        self::assertSame($attachments->path($one), $attachments->path($two), 'The same bytes are kept once.');
        self::assertStringContainsString($one->code, (string) json_encode(self::service(MirroredLedger::class)->line(
            'attachment.kept', $one->code,
        )));
        self::assertStringContainsString('evil&lt;b&gt;.html', $this->get('/items/'.$item->code));
        $this->get('/attachments/'.$one->code);
        self::assertSame('application/octet-stream', $this->header('Content-Type'));
        self::assertStringStartsWith('attachment;', $this->header('Content-Disposition'));
        self::assertSame('nosniff', $this->header('X-Content-Type-Options'));
        self::assertStringContainsString("default-src 'none'", $this->header('Content-Security-Policy'));
        // It can be taken away, and comes back.
        $token = $this->formToken($item);
        $this->client->request('POST', '/attachments/'.$one->code, ['_token' => $token, 'act' => 'take-away']);
        self::assertStringContainsString('It is taken away', $this->get($this->header('Location')));
        self::assertCount(1, $this->of($item));
        $this->get('/attachments/'.$one->code);
        self::assertSame(404, $this->answered());
        $this->client->request('POST', '/attachments/'.$one->code, ['_token' => $token, 'act' => 'bring-back']);
        self::assertCount(2, $this->of($item));
        $this->signIn('Nerys Quill', Role::Reader);
        $this->get('/attachments/'.$one->code);
        self::assertSame(404, $this->answered());
    }

    public function testIntegrityLooksAtIt(): void
    {
        $item = $this->item('Of the door');
        $attachments = self::service(Attachments::class);
        $keep = fn (string $name, string $bytes): Attachment => $attachments->add(
            new Actor('Ilse Varga'), $item, $this->folder->file($name, $bytes), $name, 'text/plain',
        );
        [$whole, $altered, $missing] = [$keep('a.txt', 'whole'), $keep('b.txt', 'altered'), $keep('c.txt', 'missing')];
        chmod($attachments->path($altered), 0o600);
        file_put_contents($attachments->path($altered), 'otherwise');
        unlink($attachments->path($missing));
        $verifier = self::service(Verifier::class);
        $verification = $verifier->begin(new Actor('Ilse Varga'));
        $verifier->run($verification);
        $found = array_column($verification->findings, 'what', 'where');
        self::assertStringContainsString('altered', $found['attachments/'.$altered->code] ?? '');
        self::assertStringContainsString('missing', $found['attachments/'.$missing->code] ?? '');
        self::assertArrayNotHasKey('attachments/'.$whole->code, $found);
    }

    public function testAnItemMadeAfterAnotherOneHasItsFilesToo(): void
    {
        $item = $this->item('Of the door');
        $attachments = self::service(Attachments::class);
        $one = $attachments->add(new Actor('Ilse Varga'), $item, $this->folder->file('a.txt', 'form'), 'a.txt', 'text/plain');
        $copy = self::service(ItemTemplates::class)->copy(
            new Actor('Ilse Varga'), Viewer::person('Ilse Varga', Role::Keeper), $item, 'Another',
        );
        [$two] = $this->of($copy);
        self::assertSame([$one->sha256, 'a.txt'], [$two->sha256, $two->name]);
        self::assertNotSame($one->code, $two->code);
        self::assertNotNull(self::service(MirroredLedger::class)->line('attachment.kept', $two->code));
    }

    public function testWhatWasEndedHalfWayIsEndedFromWhatCame(): void
    {
        $attachments = self::service(Attachments::class);
        $begun = $attachments->begin(new Actor('Ilse Varga'), $this->item('Of the door'), 'note.webm', 'audio/webm');
        $piece = fopen($this->folder->file('piece', 'sound'), 'r');
        self::assertIsResource($piece);
        $attachments->append($begun, 0, $piece);
        $first = $attachments->finish($begun);
        // The state before, with the bytes in both places: as after a kill between the two.
        copy($attachments->path($first), $attachments->path($begun));
        self::service(Connection::class)->update('attachment', ['sha256' => null], ['id' => $first->id]);
        self::assertSame($first->sha256, $attachments->finish($begun)->sha256);
        self::assertSame($first->sha256, $attachments->finish($begun)->sha256, 'Whoever comes second finds it ended.');
        self::assertFileDoesNotExist($attachments->path($begun));
    }

    public function testARecordingComesPieceByPieceAndIsKeptWhenItsWindowIsClosed(): void
    {
        $this->signIn('Ilse Varga', Role::Keeper);
        $this->get('/references');
        $token = (string) $this->client->getCrawler()->filter('#spoken-note')->attr('data-token');
        $this->client->request('POST', '/recordings', ['_token' => $token, 'type' => 'audio/webm;codecs=opus']);
        self::assertSame(201, $this->answered());
        $begun = json_decode($this->body(), true);
        self::assertIsArray($begun);
        $code = \is_string($begun['code'] ?? null) ? $begun['code'] : '';
        $send = function (int $at, string $piece, int $status = 200) use ($code, $token): int {
            $this->client->request('PUT', '/recordings/'.$code.'/'.$at, [], [], ['HTTP_X_TOKEN' => $token], $piece);
            self::assertSame($status, $this->answered());
            $said = json_decode($this->body(), true);

            return \is_array($said) && \is_int($said['there'] ?? null) ? $said['there'] : -1;
        };
        self::assertSame(3, $send(0, 'abc'));
        self::assertSame(3, $send(0, 'abc'), 'A piece that comes twice is not taken twice.');
        self::assertSame(3, $send(9, 'xyz'), 'Nor one that leaves a gap.');
        self::assertSame(6, $send(3, 'def'));
        $attachments = self::service(Attachments::class);
        $one = $attachments->byCode($code);
        self::assertFalse($one?->isWhole());
        $this->get('/attachments/'.$code);
        self::assertSame(404, $this->answered());
        // The window is closed here: after a while what came is what there is.
        self::service(Connection::class)->executeStatement("UPDATE attachment SET last_at = '2020-01-01'");
        $attachments->sweep();
        $one = $attachments->byCode($code);
        self::assertSame(hash('sha256', 'abcdef'), $one?->sha256);
        $send(6, 'ghi', 409);
        $this->client->request('POST', '/recordings/'.$code.'/end', ['_token' => $token, 'marks' => '[2.5, 1, "x", []]']);
        self::assertSame(200, $this->answered());
        $this->client->request('POST', '/attachments/'.$code,
            ['_token' => $token, 'act' => 'mark', 'at' => '61.04', 'text' => 'She <says>']);
        self::assertSame([1.0, 2.5, 61.0], array_map(
            static fn (array $mark): float => (float) $mark['at'], $attachments->byCode($code)->marks ?? [],
        ));
        $body = $this->get(\is_string($begun['item'] ?? null) ? $begun['item'] : '');
        self::assertStringContainsString('data-seek="61"', $body);
        self::assertStringContainsString('She &lt;says&gt;', $body);
        self::assertStringContainsString('1:01', $body);
        $this->client->request('GET', '/attachments/'.$code, [], [], ['HTTP_RANGE' => 'bytes=2-3']);
        self::assertSame(206, $this->answered());
        self::assertSame('audio/webm', $this->header('Content-Type'));
        $this->client->request('POST', '/attachments/'.$code, ['_token' => $token, 'act' => 'unmark', 'n' => '0']);
        self::assertCount(2, $attachments->byCode($code)->marks ?? []);
        $this->signIn('Bram Hollis', Role::Keeper);
        $this->client->request('PUT', '/recordings/'.$code.'/6', [], [], ['HTTP_X_TOKEN' => $token], 'x');
        self::assertContains($this->answered(), [403, 404]);
    }

    public function testAnItemHasNoMoreThanSoMany(): void
    {
        $item = $this->item('Of the door');
        $attachments = self::service(Attachments::class);
        for ($n = 0; $n < Attachments::MOST_OF_ITEM; ++$n) {
            $attachments->begin(new Actor('Ilse Varga'), $item, 'x', 'audio/webm');
        }
        $this->expectException(CannotChange::class);
        $attachments->begin(new Actor('Ilse Varga'), $item, 'x', 'audio/webm');
    }

    private function item(string $title): Item
    {
        $made = $this->ask('POST', '/api/items', $this->keeper, ['kind' => 'note', 'title' => $title], 201);
        $item = self::service(ItemRepository::class)->byCode(Viewer::system(), self::text($made, 'code'));
        self::assertNotNull($item);

        return $item;
    }

    /** @return list<Attachment> */
    private function of(Item $item): array
    {
        return self::service(Attachments::class)->of($item);
    }

    private function formToken(Item $item): string
    {
        $this->get('/items/'.$item->code);

        return (string) $this->client->getCrawler()->filter('form[data-note] [name=_token]')->attr('value');
    }

    /** @param array<string, string> $files contents by name */
    private function attach(Item $item, array $files): void
    {
        $sent = [];
        foreach ($files as $name => $bytes) {
            $path = (string) tempnam(sys_get_temp_dir(), 'desk');
            file_put_contents($path, $bytes);
            $sent[] = new UploadedFile($path, $name, null, null, true);
        }
        $this->client->request('POST', '/items/'.$item->code.'/attachments', ['_token' => $this->formToken($item)], ['files' => $sent]);
    }
}
