<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Compare;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Compare\ChangeKind;
use Ypomna\Core\Compare\PageComparison;
use Ypomna\Core\Compare\PassageChange;
use Ypomna\Core\Page\Document;
use Ypomna\Tests\Support\ProcessorTime;

final class TableComparisonTest extends TestCase
{
    private const TIMES = [
        ['Pier', 'Dep', 'Arr'],
        ['North', '06:10', '07:00'],
        ['South', '07:00', '08:00'],
        ['East', '09:00', '10:00'],
        ['West', '10:00', '11:00'],
    ];

    /**
     * @param list<list<string>> $new
     * @param list<string> $changes
     */
    #[DataProvider('alterations')]
    public function testOneCellIsOneChangeAndARowMovesNothingElse(array $new, array $changes): void
    {
        $found = self::changes(self::TIMES, $new);
        sort($found);
        sort($changes);
        self::assertSame($changes, $found);
    }

    /**
     * @return iterable<string, array{list<list<string>>, list<string>}>
     */
    public static function alterations(): iterable
    {
        yield 'nothing' => [self::TIMES, []];
        yield 'a cell' => [self::set(self::TIMES, 1, 2, '07:15'), ['07:00 > 07:15']];
        yield 'a cell that takes the value of another row' => [self::set(self::TIMES, 2, 1, '06:10'), ['07:00 > 06:10']];
        yield 'all figures of a row' => [
            self::set(self::set(self::TIMES, 3, 1, '12:00'), 3, 2, '13:00'), ['09:00 > 12:00', '10:00 > 13:00'],
        ];
        yield 'a row put in' => [self::rows(self::TIMES, 1, 0, ['Quay', '06:10', '07:00']), ['+ Quay', '+ 06:10', '+ 07:00']];
        yield 'a row taken out' => [self::rows(self::TIMES, 2, 1), ['- South', '- 07:00', '- 08:00']];
        yield 'a row put in and a cell' => [
            self::rows(self::set(self::TIMES, 4, 1, '10:05'), 3, 0, ['Quay', '08:00', '09:00']),
            ['+ Quay', '+ 08:00', '+ 09:00', '10:00 > 10:05'],
        ];
        yield 'a column put in' => [
            self::columns(self::TIMES, 1, 0, ['Ship', 'Curlew', 'Tern', 'Heron', 'Avocet']),
            ['+ Ship', '+ Curlew', '+ Tern', '+ Heron', '+ Avocet'],
        ];
        yield 'a column taken out' => [self::columns(self::TIMES, 2, 1, []), ['- Arr', '- 07:00', '- 08:00', '- 10:00', '- 11:00']];
        yield 'the last row first' => [
            self::rows(self::rows(self::TIMES, 4, 1), 1, 0, ['West', '10:00', '11:00']), ['~ West', '~ 10:00', '~ 11:00'],
        ];
        yield 'a column renamed' => [self::set(self::TIMES, 0, 1, 'Departure'), ['Dep > Departure']];
        yield 'a cell emptied' => [self::set(self::TIMES, 3, 2, ''), ['- 10:00']];
    }

    /**
     * @param list<list<string>> $table
     *
     * @return list<list<string>>
     */
    private static function set(array $table, int $row, int $column, string $value): array
    {
        return array_values(array_replace($table, [$row => array_values(array_replace($table[$row], [$column => $value]))]));
    }

    /**
     * @param list<list<string>> $table
     * @param list<string> $row to put in
     *
     * @return list<list<string>>
     */
    private static function rows(array $table, int $at, int $out, array $row = []): array
    {
        array_splice($table, $at, $out, [] === $row ? [] : [$row]);

        return $table;
    }

    /**
     * @param list<list<string>> $table
     * @param list<string> $column to put in
     *
     * @return list<list<string>>
     */
    private static function columns(array $table, int $at, int $out, array $column): array
    {
        return array_map(static function (array $row, int $n) use ($at, $out, $column): array {
            array_splice($row, $at, $out, isset($column[$n]) ? [$column[$n]] : []);

            return $row;
        }, $table, array_keys($table));
    }

    public function testColumnsWithoutNamesAreToldByWhatStandsInThem(): void
    {
        $old = [['1', 'North', '06:10'], ['2', 'South', '07:00'], ['3', 'East', '09:00']];
        $new = [['1', 'x', 'North', '06:10'], ['2', 'y', 'South', '07:00'], ['3', 'z', 'East', '09:00']];
        $found = self::changes($old, $new);
        sort($found);
        self::assertSame(['+ x', '+ y', '+ z'], $found);
    }

    public function testTwoTablesKeepApartAndAWholeOneMayMove(): void
    {
        $other = [['Ship', 'Year'], ['Curlew', '1998'], ['Tern', '2004']];
        $page = static fn (string ...$parts): Document => Document::fromHtml('<!doctype html><meta charset=utf-8>'.implode('', $parts));
        $text = '<p>'
            .implode('<p>', array_map(static fn (int $n): string => "A sentence with number {$n} that stays where it is.", range(1, 9)));
        $changed = self::set($other, 1, 1, '1999');
        $comparison = PageComparison::of(
            $page(self::html(self::TIMES), self::html($other), $text), $page(self::html(self::TIMES), self::html($changed), $text),
        );
        self::assertSame(['1998 > 1999'], self::told($comparison));
        $comparison = PageComparison::of($page(self::html($other), $text), $page($text, self::html($changed)));
        self::assertSame(['~ Ship', '~ Year', '~ Curlew', '1998 > 1999, moved', '~ Tern', '~ 2004'], self::told($comparison));
    }

    public function testALargeTableTakesLittleTime(): void
    {
        $rows = array_map(static fn (int $n): array => ["Vessel {$n}", (string) (1_900 + $n % 120), 'Port '.($n % 17)], range(1, 2_000));
        $new = self::rows(self::set($rows, 700, 1, '2030'), 300, 1);
        $start = ProcessorTime::seconds();
        self::assertCount(4, self::changes($rows, $new));
        self::assertLessThan(10.0, ProcessorTime::seconds() - $start);
    }

    /**
     * @param list<list<string>> $old
     * @param list<list<string>> $new
     *
     * @return list<string>
     */
    private static function changes(array $old, array $new): array
    {
        return self::told(PageComparison::of(
            Document::fromHtml('<!doctype html><p>Times.'.self::html($old)),
            Document::fromHtml('<!doctype html><p>Times.'.self::html($new)),
        ));
    }

    /**
     * @return list<string>
     */
    private static function told(PageComparison $comparison): array
    {
        return array_map(static fn (PassageChange $c): string => match ($c->kind) {
            ChangeKind::Added => '+ '.$c->new?->text,
            ChangeKind::Removed => '- '.$c->old?->text,
            ChangeKind::Moved => '~ '.$c->new?->text,
            ChangeKind::Changed => $c->old?->text.' > '.$c->new?->text.($c->moved ? ', moved' : ''),
        }, $comparison->changes);
    }

    /** @param list<list<string>> $rows */
    private static function html(array $rows): string
    {
        return '<table>'
            .implode(
                '',
                array_map(
                    static fn (array $row): string => '<tr>'.implode('', array_map(static fn (string $cell): string => '<td>'.$cell, $row)),
                    $rows,
                ),
            )
            .'</table>';
    }
}
