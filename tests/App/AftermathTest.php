<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use Ypomna\App\Catalogue\CaptureLimits;
use Ypomna\App\Desk\Aftermaths;
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
        // What one may not see did not become of it.
        self::service(CaptureLimits::class)->say(new Actor('Tomas Okoye'), $this->captureOf('http://lantern.test/a', '2025-01-03'), true);
        $reader = Viewer::person('Nerys Quill', Role::Reader);
        self::assertSame(['2024-12-03', true, null], $told('http://lantern.test/a', '2024-11-03', $reader));
    }
}
