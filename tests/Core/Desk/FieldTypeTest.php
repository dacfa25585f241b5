<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Desk;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Desk\FieldType;
use Ypomna\Core\Desk\InvalidValue;
use Ypomna\Core\Desk\Todo;
use Ypomna\Core\Desk\Todos;

/** What a field of an item may hold, and the to-dos of its note. */
final class FieldTypeTest extends TestCase
{
    #[DataProvider('good')]
    public function testAValueOfItsType(FieldType $type, mixed $value, mixed $kept): void
    {
        self::assertSame($kept, $type->value($value, ['yes', 'no']));
    }

    /** @return iterable<string, array{FieldType, mixed, mixed}> */
    public static function good(): iterable
    {
        yield 'text' => [FieldType::Text, 'x', 'x'];
        yield 'person' => [FieldType::Person, 'Edda Marlow', 'Edda Marlow'];
        yield 'choice' => [FieldType::Choice, 'yes', 'yes'];
        yield 'date' => [FieldType::Date, '2021~', '2021~'];
        yield 'address' => [FieldType::Address, 'http://lantern.test/', 'http://lantern.test/'];
        yield 'a place by name' => [FieldType::Place, ['name' => 'Low Quay'], ['name' => 'Low Quay']];
        yield 'a place by degrees' => [
            FieldType::Place, ['latitude' => -90, 'longitude' => 180.0, 'name' => null], ['latitude' => -90, 'longitude' => 180.0],
        ];
        yield 'a number' => [FieldType::Number, ['value' => 12.5, 'unit' => 'cm'], ['value' => 12.5, 'unit' => 'cm']];
        yield 'a number without unit' => [FieldType::Number, ['value' => 0, 'unit' => ''], ['value' => 0]];
    }

    #[DataProvider('bad')]
    public function testAValueOfAnotherType(FieldType $type, mixed $value): void
    {
        $this->expectException(InvalidValue::class);
        $type->value($value, ['yes', 'no']);
    }

    /** @return iterable<string, array{FieldType, mixed}> */
    public static function bad(): iterable
    {
        yield 'no text' => [FieldType::Text, 5];
        yield 'too long' => [FieldType::Person, str_repeat('x', 10_001)];
        yield 'no choice' => [FieldType::Choice, 'perhaps'];
        yield 'no date' => [FieldType::Date, 'soon'];
        yield 'no address' => [FieldType::Address, 'lantern'];
        yield 'one degree' => [FieldType::Place, ['latitude' => 1]];
        yield 'too far north' => [FieldType::Place, ['latitude' => 90.1, 'longitude' => 0]];
        yield 'degrees as text' => [FieldType::Place, ['latitude' => '1', 'longitude' => '1']];
        yield 'an empty place' => [FieldType::Place, []];
        yield 'something else of a place' => [FieldType::Place, ['name' => 'x', 'height' => 3]];
        yield 'no place' => [FieldType::Place, 'Low Quay'];
        yield 'a number as text' => [FieldType::Number, ['value' => '12']];
        yield 'no number' => [FieldType::Number, 12];
        yield 'something else of a number' => [FieldType::Number, ['value' => 1, 'sign' => '+']];
    }

    public function testToDosStandOutsideOfCode(): void
    {
        $note = "# Ask\r\n- [ ] the mate\n  * [X] the cook\n~~~\n- [ ] not this\n```\n~~~\n10. [ ] the *pilot*\n- [] no\n-[ ] no\n> -"
            .' [x] said';
        self::assertEquals([
            new Todo(2, 'the mate', false), new Todo(3, 'the cook', true), new Todo(8, 'the *pilot*', false), new Todo(11, 'said', true),
        ], Todos::in($note));
        $ticked = Todos::set($note, 8, 'the *pilot*', true);
        self::assertStringContainsString("\n10. [x] the *pilot*\n", (string) $ticked);
        self::assertSame($note, Todos::set((string) $ticked, 8, 'the *pilot*', false));
        self::assertNull(Todos::set($note, 8, 'the cook', true));
        self::assertNull(Todos::set($note, 5, 'not this', true));
        self::assertCount(Todos::MOST, Todos::in(str_repeat("- [ ] x\n", Todos::MOST + 5)));
    }
}
