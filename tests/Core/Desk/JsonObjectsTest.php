<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Desk;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Desk\CsvCells;
use Ypomna\Core\Desk\InvalidValue;
use Ypomna\Core\Desk\JsonObjects;
use Ypomna\Core\Desk\MarkdownText;
use Ypomna\Tests\Support\Edited\Chance;

/** Lists of any length, one object after the other; cells that are no formulas. */
final class JsonObjectsTest extends TestCase
{
    /** @param list<mixed> $objects */
    #[DataProvider('lists')]
    public function testTheObjectsOfAList(string $json, array $objects): void
    {
        foreach ([1, 2, 7, 100_000] as $step) {
            $found = array_map(
                static fn (string $one): mixed => json_decode($one, true, 64, \JSON_THROW_ON_ERROR),
                iterator_to_array(JsonObjects::in(str_split($json, $step)), false),
            );
            self::assertSame($objects, $found);
        }
    }

    /** @return iterable<string, array{string, list<mixed>}> */
    public static function lists(): iterable
    {
        yield 'nothing' => [' [ ] ', []];
        yield 'objects in objects and brackets in texts' => [
            '[{"a":"]}{\"","b":[{"c":1}]} , {"x":"é\\\\"}]', [['a' => ']}{"', 'b' => [['c' => 1]]], ['x' => 'é\\']],
        ];
        yield 'a list by its name' => ['{"total": [1], "x": {"items": [{"no": 1}]}, "items" : [{"a":1}], "more": [{"no":1}]}',
            [['a' => 1]]];
    }

    #[DataProvider('broken')]
    public function testWhatIsNoList(string $json): void
    {
        $this->expectException(InvalidValue::class);
        iterator_to_array(JsonObjects::in([$json]), false);
    }

    /** @return iterable<string, array{string}> */
    public static function broken(): iterable
    {
        foreach (['', 'x', '{}', '{"a":[]}', '[{"a":1}', '[}', ']', '[{"a":"', str_repeat('[', 200), '{"items":{"a":1}}'] as $json) {
            yield substr($json, 0, 20).' ' => [$json];
        }
    }

    public function testALongListNeedsNoMoreMemory(): void
    {
        $many = static function (): \Generator {
            yield '[';
            for ($n = 0; $n < 20_000; ++$n) {
                yield (0 === $n ? '' : ',').'{"note":"'.str_repeat('x', 1_000).'"}';
            }
            yield ']';
        };
        $before = memory_get_usage();
        $count = 0;
        foreach (JsonObjects::in($many()) as $object) {
            ++$count;
        }
        self::assertSame(20_000, $count);
        self::assertLessThan(2_000_000, memory_get_usage() - $before);
    }

    public function testWhateverTheText(): void
    {
        $chance = new Chance(8);
        for ($round = 0; $round < 500; ++$round) {
            $text = implode('', array_map(static fn (): string => $chance->of(['{', '}', '[', ']', '"', '\\', 'items', ':', ',', '1']),
                range(1, 30)));
            try {
                foreach (JsonObjects::in(str_split($text, 3)) as $object) {
                    self::assertSame(['{', '}'], [$object[0], substr($object, -1)]);
                }
            } catch (InvalidValue $e) {
                self::assertNotSame('', $e->getMessage());
            }
        }
    }

    public function testNoCellIsAFormulaAndEachReadsAsItWas(): void
    {
        foreach (['=1+1', '+1', '-1', '@x', "\tx", "\rx", "'=x", "''-1", "'plain", 'plain', '', '1-1', "'"] as $text) {
            $cell = CsvCells::defused($text);
            self::assertDoesNotMatchRegularExpression('/^[=+\-@\t\r]/', $cell);
            self::assertSame($text, CsvCells::read($cell));
            $row = CsvCells::row([$text, "a\"b\n", 'c,d']);
            self::assertStringEndsWith("\r\n", $row);
            self::assertSame([$cell, "a\"b\n", 'c,d'], str_getcsv(substr($row, 0, -2), ',', '"', ''));
        }
    }

    private static function html(string $markdown): string
    {
        $html = (new \Parsedown())->text($markdown);
        self::assertIsString($html);

        return $html;
    }

    public function testWordsInMarkdownAreWordsAndNothingElse(): void
    {
        self::assertSame('\# Nothing, really', MarkdownText::escaped(" # Nothing,\n\x01really\u{2028}"));
        $hostile = "<b>x</b> [a](javascript:x) ![p](//x.test) `c` *e* _u_ ~~s~~ | t | &amp; \\ http://x.test\n1. one\n---\n- [ ] to do";
        $html = self::html('> '.MarkdownText::escaped($hostile));
        self::assertSame([], array_values(array_diff(
            array_unique(preg_match_all('/<(\w+)/', $html, $found) > 0 ? $found[1] : []), ['blockquote', 'p'],
        )), $html);
        self::assertSame(
            trim((string) preg_replace('/\s+/', ' ', $hostile)),
            trim(html_entity_decode(strip_tags($html), \ENT_QUOTES | \ENT_HTML5)),
        );
    }
}
