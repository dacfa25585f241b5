<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Desk;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Desk\InvalidValue;
use Ypomna\Core\Desk\UncertainDate;

/** Dates of level 0 and 1 of EDTF (ISO 8601-2:2019, annex A), with the examples of its specification. */
final class UncertainDateTest extends TestCase
{
    #[DataProvider('dates')]
    public function testFirstAndLastDay(string $text, ?string $first, ?string $last, string $sure = ''): void
    {
        $date = UncertainDate::parse($text);
        $day = static fn (?int $number): ?string => null === $number ? null : gmdate('Y-m-d', 86_400 * $number);
        self::assertSame([$first, $last], [$day($date->first), $day($date->last)]);
        self::assertSame($sure, ($date->isApproximate ? '~' : '').($date->isUncertain ? '?' : ''));
        self::assertSame($text, $date->text);
        self::assertSame([null === $first, null === $last], [$date->isOpenBefore, $date->isOpenAfter]);
        self::assertSame(str_contains($text, '/'), $date->isSpan);
        self::assertSame($date->first ?? $date->last, $date->sortDay());
    }

    /** @return iterable<string, array{0: string, 1: string|null, 2: string|null, 3?: string}> */
    public static function dates(): iterable
    {
        foreach ([
            ['1985-04-12', '1985-04-12', '1985-04-12'], ['1985-04', '1985-04-01', '1985-04-30'], ['1985', '1985-01-01', '1985-12-31'],
            ['2024-02', '2024-02-01', '2024-02-29'], ['1900-02', '1900-02-01', '1900-02-28'],
            ['1985-04-12T23:20:30Z', '1985-04-12', '1985-04-12'], ['1985-04-12T23:20:30+04:30', '1985-04-12', '1985-04-12'],
            ['1985-04-12T23:20:30', '1985-04-12', '1985-04-12'], ['1985-04-12T23:20:30-04', '1985-04-12', '1985-04-12'],
            ['1964/2008', '1964-01-01', '2008-12-31'], ['2004-06/2006-08', '2004-06-01', '2006-08-31'],
            ['2004-02-01/2005', '2004-02-01', '2005-12-31'], ['2001-21', '2001-03-01', '2001-05-31'],
            ['2001-24', '2001-12-01', '2002-02-28'],
            ['1984?', '1984-01-01', '1984-12-31', '?'], ['2004-06~', '2004-06-01', '2004-06-30', '~'],
            ['2004-06-11%', '2004-06-11', '2004-06-11', '~?'], ['201X', '2010-01-01', '2019-12-31'], ['20XX', '2000-01-01', '2099-12-31'],
            ['2004-XX', '2004-01-01', '2004-12-31'], ['1985-04-XX', '1985-04-01', '1985-04-30'], ['1985-XX-XX', '1985-01-01', '1985-12-31'],
            ['1985-04-12/..', '1985-04-12', null], ['1985-04/..', '1985-04-01', null], ['../1985', null, '1985-12-31'],
            ['1985-04-12/', '1985-04-12', null], ['/1985-04', null, '1985-04-30'], ['1984~/2004-06', '1984-01-01', '2004-06-30', '~'],
            ['2019-12/202X%', '2019-12-01', '2029-12-31', '~?'],
        ] as $one) {
            yield $one[0] => $one;
        }
    }

    public function testYearsFarAway(): void
    {
        self::assertSame(-719_528 - 365, UncertainDate::parse('-0001')->first,
            'The year 0 has 366 days, and begins 719,528 days before 1970.');
        self::assertGreaterThan(62_000_000_000, UncertainDate::parse('Y170000002')->first);
        self::assertLessThan(-62_000_000_000, UncertainDate::parse('Y-170000002')->last);
        self::assertLessThan(UncertainDate::parse('-198X')->last, UncertainDate::parse('-198X')->first);
    }

    #[DataProvider('none')]
    public function testWhatIsNoDate(string $text): void
    {
        $this->expectException(InvalidValue::class);
        UncertainDate::parse($text);
    }

    /** @return iterable<string, array{string}> */
    public static function none(): iterable
    {
        foreach ([
            '', 'yesterday', '24-11-03', '2024-13', '2024-00', '2024-20', '2024-25', '2023-02-29', '2024-04-31', '2024-1-1', '2024/11/03',
            '..', '../..', '/', '../', '2024-11-03/2024-11-02', '2024-11-03T25:00:00Z', '2024-11-03T10:00', '2024-11-03T10:00:00Z/2025',
            '1XXX', '2024-X1', '2024-XX-05', '2024??', '2024-11~-03', 'Y2024', '201X-05', "2024-11-03\n", '[2024,2025]',
            str_repeat('2', 200),
            '2024-21-03', '2024-11-03T10:00:00Z?',
        ] as $text) {
            yield substr($text, 0, 30).' ' => [$text];
        }
    }
}
