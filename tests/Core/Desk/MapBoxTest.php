<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Desk;

use PHPUnit\Framework\TestCase;
use Ypomna\Core\Desk\MapBox;

final class MapBoxTest extends TestCase
{
    public function testAllPlacesAreOnTheMapAndItStaysOnTheEarth(): void
    {
        self::assertEquals(new MapBox(-180, -90, 360, 180), MapBox::around([]));
        self::assertEquals(new MapBox(-20.0, -60.0, 40.0, 20.0), MapBox::around([['latitude' => 50.0, 'longitude' => 0.0]]));
        mt_srand(5);
        for ($n = 0; $n < 500; ++$n) {
            $places = array_map(
                static fn (): array => ['latitude' => mt_rand(-900, 900) / 10, 'longitude' => mt_rand(-1_800, 1_800) / 10],
                range(0, mt_rand(0, 4)),
            );
            $box = MapBox::around($places);
            self::assertEqualsWithDelta(2.0, $box->width / $box->height, 1e-9);
            self::assertGreaterThanOrEqual(-180.0, $box->left);
            self::assertLessThanOrEqual(180.0 + 1e-9, $box->left + $box->width);
            foreach ($places as ['latitude' => $latitude, 'longitude' => $longitude]) {
                self::assertTrue($box->left <= $longitude + 1e-9 && $longitude <= $box->left + $box->width + 1e-9);
                self::assertTrue($box->top <= -$latitude + 1e-9 && -$latitude <= $box->top + $box->height + 1e-9);
            }
        }
    }
}
