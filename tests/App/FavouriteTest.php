<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Doctrine\DBAL\Connection;
use Ypomna\App\Catalogue\CaptureLimits;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Desk\CannotChange;
use Ypomna\App\Desk\Dossiers;
use Ypomna\App\Desk\Favourites;
use Ypomna\App\Desk\Value\DossierChange;
use Ypomna\App\Desk\Value\Favourite;
use Ypomna\App\Desk\Value\FavouriteKind;
use Ypomna\App\Desk\Value\Opening;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Role;
use Ypomna\App\Shared\Viewer;
use Ypomna\Tests\Support\WarcBuilder;

/** What a person wants at hand is theirs alone. */
final class FavouriteTest extends AppTestCase
{
    private const PAGE = 'http://lantern.test/a';

    private string $dossier = '';

    public function testAnAddressACaptureAndADossierAreAtHandWithWhatIsPinnedOnTop(): void
    {
        [$capture, $dossier] = $this->things();
        $this->signIn('Nerys Quill', Role::Reader);
        self::assertStringContainsString('No favourites yet', $this->get('/favourites'));
        foreach ([
            ['address', $capture->address->code, '/address/'], ['capture', $capture->code, '/c/'], ['dossier', $dossier, '/dossiers/'],
        ] as [$kind, $code, $path]) {
            self::assertStringContainsString('Add to favourites', $this->get($path.$code));
            $this->act('add', $kind, $code);
            self::assertSame($path.$code, $this->header('Location'));
            self::assertStringContainsString('No longer a favourite', $this->get($path.$code));
        }
        self::assertSame(['dossier', 'capture', 'address'], $this->kinds());
        $this->act('pin', 'address', $capture->address->code, 'list');
        self::assertSame('/favourites', $this->header('Location'));
        self::assertSame(['address', 'dossier', 'capture'], $this->kinds());
        // Adding it again leaves it pinned.
        $this->act('add', 'address', $capture->address->code);
        self::assertSame(['address', 'dossier', 'capture'], $this->kinds());
        self::assertStringContainsString('<h2>Favourites</h2>', $this->get('/'));
        $this->act('unpin', 'address', $capture->address->code, 'list');
        self::assertSame(['dossier', 'capture', 'address'], $this->kinds());

        $this->act('remove', 'capture', $capture->code, 'list');
        $location = $this->header('Location');
        self::assertSame('/favourites?gone=capture&code='.$capture->code, $location);
        $this->get($location);
        $this->client->submit($this->client->getCrawler()->selectButton('Undo')->form());
        self::assertCount(3, $this->kinds());

        $this->signIn('Bram Hollis', Role::Administrator);
        self::assertStringContainsString('No favourites yet', $this->get('/favourites'));
        self::assertStringNotContainsString('<h2>Favourites</h2>', $this->get('/'));
    }

    public function testWhatIsNoLongerSeenIsNotThere(): void
    {
        [$capture] = $this->things();
        $reader = Viewer::person('Nerys Quill', Role::Reader);
        $favourites = self::service(Favourites::class);
        foreach ([FavouriteKind::Capture, FavouriteKind::Address] as $kind) {
            $favourites->add($reader, $kind, 'capture' === $kind->value ? $capture->code : $capture->address->code, true);
        }
        self::assertCount(2, $favourites->of($reader));
        self::service(CaptureLimits::class)->say(new Actor('Tomas Okoye'), $capture, true);
        self::assertSame([], $favourites->of($reader));
        $this->signIn('Nerys Quill', Role::Reader);
        $body = $this->get('/favourites').$this->get('/');
        self::assertStringNotContainsString('Stern door', $body);
        self::assertStringNotContainsString('lantern.test/a', $body);
        // Nor can it become one, or be told from what does not exist.
        foreach ([$capture->code, '222222222222', '', 'x'] as $code) {
            $this->act('add', 'capture', $code);
            self::assertSame(404, $this->answered());
        }
        foreach ([['add', 'watch', $capture->code], ['steal', 'address', $capture->address->code]] as [$act, $kind, $code]) {
            $this->act($act, $kind, $code);
            self::assertSame(404, $this->answered());
        }
        self::service(CaptureLimits::class)->say(new Actor('Tomas Okoye'), $capture, false);
        self::assertCount(2, $favourites->of($reader));
    }

    public function testThereIsAnEndToThem(): void
    {
        [$capture] = $this->things();
        $viewer = Viewer::person('Tomas Okoye', Role::Custodian);
        $favourites = self::service(Favourites::class);
        $favourites->add($viewer, FavouriteKind::Capture, $capture->code);
        $database = self::service(Connection::class);
        for ($n = 1; $n < Favourites::MOST; ++$n) {
            $database->executeStatement(
                "INSERT INTO favourite VALUES ('Tomas Okoye', 'address', ?, 0, NOW(6))", [\sprintf('%012d', $n)],
            );
        }
        self::assertTrue($favourites->isFull($viewer));
        // What is one already is none more.
        $favourites->add($viewer, FavouriteKind::Capture, $capture->code, true);
        self::assertSame(
            [$capture->code], array_map(static fn (Favourite $one): string => $one->code, $favourites->of($viewer)), 'The others are gone.',
        );
        $this->act('add', 'address', $capture->address->code);
        self::assertSame(422, $this->answered());
        self::assertStringContainsString('1,000 favourites are as many as you can have', $this->body());
        $this->expectException(CannotChange::class);
        $favourites->add($viewer, FavouriteKind::Address, $capture->address->code);
    }

    /** @return array{Capture, string} */
    private function things(): array
    {
        $this->takeIn(
            (new WarcBuilder('f'))->exchange(self::PAGE, '2024-11-03T10:00:00Z', '<title>Stern door</title><p>x'), 'f.warc.gz',
        );
        $this->dossier = self::service(Dossiers::class)->make(
            new Actor('Tomas Okoye'), new DossierChange('Doors', open: Opening::All),
        )->code;

        return [$this->captureOf(self::PAGE), $this->dossier];
    }

    private function act(string $act, string $kind, string $code, string $from = ''): void
    {
        $form = '~action="/favourites">\s*<input type="hidden" name="_token" value="([^"]+)"~';
        self::assertSame(1, preg_match($form, $this->get('/dossiers/'.$this->dossier), $m));
        $this->client->request('POST', '/favourites', [
            '_token' => $m[1], 'act' => $act, 'kind' => $kind, 'code' => $code, 'from' => $from,
        ]);
    }

    /** @return list<string> */
    private function kinds(): array
    {
        $this->get('/favourites');

        $kinds = [];
        foreach ($this->client->getCrawler()->filter('.shelf a.open')->extract(['href']) as $path) {
            $first = explode('/', \is_string($path) ? $path : '')[1] ?? '';
            $kinds[] = ['address' => 'address', 'c' => 'capture', 'dossiers' => 'dossier'][$first] ?? '';
        }

        return $kinds;
    }
}
