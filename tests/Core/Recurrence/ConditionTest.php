<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Recurrence;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Page\Document;
use Ypomna\Core\Recurrence\Condition;
use Ypomna\Core\Recurrence\ConditionKind;
use Ypomna\Core\Recurrence\InvalidCondition;

/** When a change is to be told. */
final class ConditionTest extends TestCase
{
    private const OLD = '<title>Fares</title><h1>Fares</h1><p id=note>The fares of'
        .' spring.</p><table><tr><th>Crossing<th>Adult<th>Child<tr><td>Hollin Quay<td>12.50<td>6.00<tr><td>Porth Merrow<td>1 840'
        .' p<td>9.20</table><p class=made>Page made 3 March 2025 10:00</p>';

    /** @param array{string, string}|null $expected */
    #[DataProvider('changes')]
    public function testWhatIsTold(Condition $condition, string $from, string $to, ?array $expected): void
    {
        self::assertStringContainsString($from, self::OLD);
        $found = $condition->between(Document::fromHtml(self::OLD), Document::fromHtml(str_replace($from, $to, self::OLD)));
        self::assertSame($expected, null === $found ? null : [$found->before, $found->after]);
    }

    /** @return iterable<string, array{Condition, string, string, array{string, string}|null}> */
    public static function changes(): iterable
    {
        $cell = new Condition(ConditionKind::Cell, 'hollin quay', 'adult');
        yield 'a change of substance' => [new Condition(), 'of spring', 'of summer', ['The fares of spring.', 'The fares of summer.']];
        yield 'noise' => [new Condition(), '10:00', '10:05', null];
        yield 'the cell' => [$cell, '12.50', '13.00', ['12.50', '13.00']];
        yield 'the cell, written otherwise' => [new Condition(ConditionKind::Cell, 'Porth', 'Adult'), '1 840 p', '1 840 p each', null];
        yield 'another cell' => [$cell, '6.00', '7.00', null];
        yield 'the cell is gone' => [$cell, 'Hollin Quay', 'Elsewhere', ['12.50', '']];
        yield 'a phrase comes' => [
            new Condition(ConditionKind::PhraseComes, 'out of  SERVICE'),
            'of spring.',
            'of spring. She is out of service.',
            ['', 'She is out of service.'],
        ];
        yield 'a phrase was there before' => [new Condition(ConditionKind::PhraseComes, 'fares'), 'of spring', 'of summer', null];
        yield 'a phrase goes' => [
            new Condition(ConditionKind::PhraseGoes, 'fares of spring'), 'of spring', 'of summer', ['The fares of spring.', ''],
        ];
        yield 'a part' => [
            new Condition(ConditionKind::Part, '#note'), 'of spring', 'of summer', ['The fares of spring.', 'The fares of summer.'],
        ];
        yield 'beside the part' => [new Condition(ConditionKind::Part, '#note'), '12.50', '13.00', null];
        yield 'only when it vanishes' => [new Condition(ConditionKind::Vanishing), 'of spring', 'of summer', null];
    }

    public function testFurtherChangesAreCounted(): void
    {
        $found = (new Condition())->between(
            Document::fromHtml('<p>One boat sails at 06:10.</p><p>The quay is closed.</p>'),
            Document::fromHtml('<p>One boat sails at 06:40.</p><p>The quay stays open all night.</p>'),
        );
        self::assertSame(['One boat sails at 06:10.', 1], [$found?->before, $found?->more], 'the number first');
    }

    public function testWhetherItCanBeMet(): void
    {
        $page = Document::fromHtml(self::OLD);
        self::assertTrue((new Condition(ConditionKind::Cell, 'Hollin', 'Child'))->isIn($page));
        self::assertFalse((new Condition(ConditionKind::Cell, 'Hollin', 'Dog'))->isIn($page));
        self::assertFalse((new Condition(ConditionKind::Part, '#prices'))->isIn($page));
        self::assertFalse((new Condition(ConditionKind::PhraseGoes, 'autumn'))->isIn($page));
        self::assertTrue((new Condition())->isIn($page));
    }

    #[DataProvider('impossible')]
    public function testWhatCouldNeverBeMet(ConditionKind $kind, string $text, string $column): void
    {
        $this->expectException(InvalidCondition::class);
        new Condition($kind, $text, $column);
    }

    /** @return iterable<array{ConditionKind, string, string}> */
    public static function impossible(): iterable
    {
        yield [ConditionKind::PhraseComes, ' ', ''];
        yield [ConditionKind::Cell, 'x', ''];
        yield [ConditionKind::Cell, '', 'x'];
        yield [ConditionKind::Part, '#a[b]', ''];
        yield [ConditionKind::PhraseGoes, str_repeat('x', 501), ''];
    }
}
