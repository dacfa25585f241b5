<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Desk;

use PHPUnit\Framework\TestCase;
use Ypomna\Core\Desk\Rank;
use Ypomna\Tests\Support\Edited\Chance;

/** An order made by hand, in which nothing is numbered anew. */
final class RankTest extends TestCase
{
    public function testWhereverSomethingIsPutTheOrderIsThatOne(): void
    {
        $chance = new Chance(3);
        /** @var list<string> $keys */
        $keys = [];
        for ($n = 0; $n < 3_000; ++$n) {
            $at = $chance->between(0, \count($keys));
            $key = Rank::between($keys[$at - 1] ?? null, $keys[$at] ?? null);
            array_splice($keys, $at, 0, [$key]);
        }
        $sorted = $keys;
        sort($sorted, \SORT_STRING);
        self::assertSame($sorted, $keys);
        self::assertCount(3_000, array_unique($keys));
    }

    public function testAtTheEndAndAtTheBeginningKeysStayShort(): void
    {
        $last = $first = Rank::between(null, null);
        for ($n = 0; $n < 5_000; ++$n) {
            [$before, $after] = [$last, $first];
            self::assertGreaterThan($before, $last = Rank::between($last, null));
            self::assertLessThan($after, $first = Rank::between(null, $first));
        }
        self::assertSame([8, 8], [\strlen($last), \strlen($first)]);
    }

    public function testAlwaysAtTheSamePlaceKeysGrowSlowly(): void
    {
        foreach ([true, false] as $isBefore) {
            [$low, $high] = ['i0000000', 'i0000001'];
            for ($n = 0; $n < 500; ++$n) {
                $key = Rank::between($low, $high);
                self::assertTrue($low < $key && $key < $high);
                $isBefore ? $high = $key : $low = $key;
            }
            self::assertLessThanOrEqual(120, \strlen($isBefore ? $high : $low));
        }
        self::assertSame(['i0000000', 'i0000001', 'i0000002'], Rank::spread(3));
    }

    public function testThereIsNoPlaceBetweenWhatIsNotInOrder(): void
    {
        $this->expectException(\InvalidArgumentException::class);
        Rank::between('b', 'a');
    }
}
