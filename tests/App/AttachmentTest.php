<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Symfony\Component\HttpFoundation\File\UploadedFile;
use Ypomna\App\Desk\Attachments;
use Ypomna\App\Desk\CannotChange;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\ItemRepository;
use Ypomna\App\Desk\Value\Attachment;
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
        self::service(\Doctrine\DBAL\Connection::class)->executeStatement("UPDATE attachment SET last_at = '2020-01-01'");
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
