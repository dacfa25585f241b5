<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Ypomna\App\Catalogue\CaptureLimits;
use Ypomna\App\Desk\Aftermaths;
use Ypomna\App\Desk\CaptureItems;
use Ypomna\App\Desk\Dossiers;
use Ypomna\App\Desk\Entity\Item;
use Ypomna\App\Desk\Value\DossierChange;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Role;
use Ypomna\App\Shared\Viewer;
use Ypomna\Tests\Support\WarcBuilder;

/** What became of the page that an item is about. */
final class AftermathTest extends AppTestCase
{
    public function testAPageWasCapturedAgainChangedAndVanished(): void
    {
        $this->person('Ilse Varga', Role::Keeper);
        $page = '<title>Notice</title><p>The door was inspected by Edda Marlow. Nobody was hurt.';
        $this->takeIn((new WarcBuilder('a'))
            ->exchange('http://lantern.test/a', '2024-11-03T10:00:00Z', $page, destination: 'document')
            ->exchange('http://lantern.test/a', '2024-11-04T10:00:00Z', $page, destination: 'document')
            ->exchange('http://lantern.test/a', '2024-12-03T10:00:00Z', str_replace('Edda Marlow', 'our safety department', $page),
                destination: 'document')
            ->exchange('http://lantern.test/a', '2025-01-03T10:00:00Z', '<title>Not found</title><p>There is nothing here.', status: 404,
                destination: 'document')
            ->exchange('http://lantern.test/b', '2024-11-03T10:00:00Z', $page, destination: 'document')
            ->exchange('http://lantern.test/b', '2024-11-05T10:00:00Z', $page, destination: 'document'));
        $keeper = Viewer::person('Ilse Varga', Role::Keeper);
        $told = function (string $url, string $moment, Viewer $viewer): ?array {
            $became = self::service(Aftermaths::class)->of($viewer, $this->captureOf($url, $moment)->code);

            return null === $became ? null : [
                $became->again?->capturedAt->format('Y-m-d'), $became->changed, $became->gone?->capturedAt->format('Y-m-d'),
            ];
        };
        self::assertSame(['2024-12-03', true, '2025-01-03'], $told('http://lantern.test/a', '2024-11-03', $keeper));
        self::assertSame([null, false, '2025-01-03'], $told('http://lantern.test/a', '2024-12-03', $keeper));
        self::assertSame([null, false, '2025-01-03'], $told('http://lantern.test/a', '2025-01-03', $keeper));
        self::assertSame(['2024-11-05', false, null], $told('http://lantern.test/b', '2024-11-03', $keeper));
        self::assertSame([null, false, null], $told('http://lantern.test/b', '2024-11-05', $keeper));
        $items = self::service(CaptureItems::class);
        $dossier = self::service(Dossiers::class)->make(new Actor('Ilse Varga'), new DossierChange('Doors'));
        $this->signIn('Ilse Varga', Role::Keeper);
        $shown = function (string $moment) use ($items, $dossier): string {
            $code = $this->captureOf('http://lantern.test/a', $moment)->code;
            $items->lay(new Actor('Ilse Varga'), $dossier, $code);
            $made = array_values(array_filter(self::made(Item::class), static fn (Item $item): bool => $item->captureCode === $code));

            return (string) preg_replace('/\s+/', ' ', strip_tags($this->get('/items/'.$made[0]->code)));
        };
        $first = $shown('2024-11-03');
        self::assertStringContainsString('What became of it', $first);
        self::assertStringContainsString('Captured again, last on 3 Dec 2024 It changed since: compare', $first);
        self::assertStringContainsString('Vanished: it answered 404 on 3 Jan 2025', $first);
        self::assertStringNotContainsString('was not captured since', $shown('2024-12-03'));
        // What one may not see did not become of it.
        self::service(CaptureLimits::class)->say(new Actor('Tomas Okoye'), $this->captureOf('http://lantern.test/a', '2025-01-03'), true);
        $reader = Viewer::person('Nerys Quill', Role::Reader);
        self::assertSame(['2024-12-03', true, null], $told('http://lantern.test/a', '2024-11-03', $reader));
    }
}
