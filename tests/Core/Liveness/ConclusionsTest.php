<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Liveness;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Liveness\Conclusion;
use Ypomna\Core\Liveness\Conclusions;
use Ypomna\Core\Liveness\LiveReason;
use Ypomna\Core\Liveness\PastCheck;

/** One look is not the last word. */
final class ConclusionsTest extends TestCase
{
    /**
     * @param list<array{string, LiveReason}> $checks hours or moments after the first day of March
     */
    #[DataProvider('histories')]
    public function testTheConclusion(array $checks, string $verdict, bool $isFinal, int $counted, string $next): void
    {
        $found = self::of($checks);
        self::assertSame(
            [$verdict, $isFinal, $counted, $next],
            [$found->verdict->value, $found->isFinal, $found->counted, $found->nextCheck->format('j H:i')],
        );
    }

    /**
     * @return iterable<string, array{list<array{string, LiveReason}>, string, bool, int, string}>
     */
    public static function histories(): iterable
    {
        [$ok, $gone, $down, $wall] = [LiveReason::Ok, LiveReason::NotFound, LiveReason::Timeout, LiveReason::Consent];
        yield 'alive' => [[['1 10:00', $ok]], 'alive', true, 1, '31 10:00'];
        yield 'once gone' => [[['1 10:00', $ok], ['2 10:00', $gone]], 'vanished', false, 1, '2 16:00'];
        yield 'looked at again too soon' => [[['2 10:00', $gone], ['2 10:05', $gone], ['2 12:00', $gone]], 'vanished', false, 1, '2 16:00'];
        yield 'twice' => [[['2 10:00', $gone], ['2 16:00', $gone]], 'vanished', false, 2, '4 16:00'];
        yield 'three times, the third too soon' => [
            [['2 10:00', $gone], ['2 17:00', $gone], ['3 10:00', $gone]], 'vanished', false, 2, '4 17:00',
        ];
        yield 'three times' => [[['2 10:00', $gone], ['2 17:00', $gone], ['5 10:00', $gone]], 'vanished', true, 3, '3 10:00'];
        yield 'back in between' => [[['2 10:00', $gone], ['2 17:00', $ok], ['5 10:00', $gone]], 'vanished', false, 1, '5 16:00'];
        yield 'trouble in between' => [
            [['2 10:00', $gone], ['2 17:00', $down], ['2 18:00', $gone], ['3 10:00', $wall], ['5 10:00', $gone]],
            'vanished',
            true,
            3,
            '3 10:00',
        ];
        yield 'trouble is not death' => [
            [['1 10:00', $ok], ['2 10:00', $down], ['3 10:00', $down], ['9 10:00', $down], ['20 10:00', $down]],
            'unreachable',
            true,
            4,
            '23 10:00',
        ];
        yield 'trouble after one look that found it gone' => [[['2 10:00', $gone], ['3 10:00', $down]], 'unreachable', true, 1, '3 11:00'];
        yield 'trouble after its end' => [
            [['2 10:00', $gone], ['2 17:00', $gone], ['5 10:00', $gone], ['9 10:00', $down]], 'vanished', true, 3, '7 10:00',
        ];
        yield 'gone in several ways' => [
            [['2 10:00', LiveReason::Soft404], ['2 17:00', LiveReason::NoHost], ['5 10:00', LiveReason::Parked]],
            'vanished',
            true,
            3,
            '3 10:00',
        ];
        yield 'too many requests pass' => [[['2 10:00', LiveReason::RateLimit]], 'blocked', true, 1, '2 11:00'];
        yield 'a wall stays' => [[['2 10:00', $wall]], 'blocked', true, 1, '1 10:00'];
    }

    public function testWhenItWasSeenLast(): void
    {
        $held = new \DateTimeImmutable('2025-02-11');
        self::assertEquals(
            $held, Conclusions::of([new PastCheck(new \DateTimeImmutable('2025-03-02'), LiveReason::Gone)], $held)?->lastSeen,
        );
        self::assertEquals(
            new \DateTimeImmutable('2025-03-01 10:00'),
            self::of([['1 10:00', LiveReason::Redirect], ['2 10:00', LiveReason::Gone], ['3 10:00', LiveReason::Timeout]])->lastSeen,
        );
        self::assertNull(self::of([['1 10:00', LiveReason::Timeout]])->lastSeen);
        self::assertNull(Conclusions::of([], $held));
    }

    public function testLooksApartMakeSurer(): void
    {
        $at = new \DateTimeImmutable('2025-03-02');
        $check = static fn (string $later): PastCheck => new PastCheck($at->modify($later), LiveReason::Soft404, 0.88);
        $once = Conclusions::of([$check('+0 hours')])->confidence ?? 0.0;
        $twice = Conclusions::of([$check('+0 hours'), $check('+7 hours')])->confidence ?? 0.0;
        self::assertSame(0.88, $once);
        self::assertGreaterThan($once, $twice);
        self::assertSame($once, Conclusions::of([$check('+0 hours'), $check('+1 hour')])?->confidence);
    }

    /**
     * @param list<array{string, LiveReason}> $checks
     */
    private static function of(array $checks): Conclusion
    {
        $found = Conclusions::of(array_map(
            static fn (array $check): PastCheck => new PastCheck(new \DateTimeImmutable('2025-03-'.$check[0]), $check[1]), $checks,
        ));
        self::assertNotNull($found);

        return $found;
    }
}
