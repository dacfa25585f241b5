<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Desk;

use PHPUnit\Framework\TestCase;
use Ypomna\Core\Desk\Quantities;
use Ypomna\Core\Desk\QuantityGroup;

final class QuantitiesTest extends TestCase
{
    public function testNumbersOfOneKindAreComparedWhateverTheirUnit(): void
    {
        self::assertEquals(
            [
                new QuantityGroup('cm', 4, 152.54, 2.54, 100.0, 25.0, true), new QuantityGroup('', 2, 3.0, 1.0, 2.0, 1.5, false),
                new QuantityGroup('furlong', 1, 7.0, 7.0, 7.0, 7.0, false),
            ],
            Quantities::compared([
                [10.0, 'cm'], [1.0, 'm'], [40.0, 'cm'], [1.0, 'in'], [1.0, ''], [2.0, ''], [7.0, 'furlong'], [\NAN, 'cm'], [\INF, 'm'],
            ]),
        );
        self::assertSame([], Quantities::compared([]));
    }

    public function testDigitsThatBinaryFractionsBringAreNotShown(): void
    {
        $group = Quantities::compared([[0.1, 'kg'], [200.0, 'g'], [0.3, 'kg']])[0] ?? null;
        self::assertSame([0.6, 0.1, 0.3, 0.2], [$group?->sum, $group?->least, $group?->most, $group?->middle]);
        $group = Quantities::compared([[-5.0, 'm'], [5.0, 'm'], [1e15, 'm']])[0] ?? null;
        self::assertSame([1e15, -5.0], [$group?->sum, $group?->least]);
        self::assertSame(36.0, Quantities::compared([[10.0, 'm/s'], [36.0, 'km/h'], [36.0, 'km/h']])[0]->most ?? null);
    }

    public function testDegreesOfTemperatureAreNotSummedTogether(): void
    {
        self::assertCount(2, Quantities::compared([[10.0, '°C'], [50.0, '°F']]));
        self::assertLessThan(Quantities::plain(1.0, 'm'), Quantities::plain(90.0, 'cm'));
    }
}
