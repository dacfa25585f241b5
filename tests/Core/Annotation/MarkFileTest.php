<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Annotation;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Annotation\MarkFile;
use Ypomna\Core\Annotation\UnreadableMarks;
use Ypomna\Tests\Support\Edited\Chance;

/** Annotations as JSON. */
final class MarkFileTest extends TestCase
{
    private const MARK = ['type' => 'Annotation', 'id' => 'urn:a',
        'target' => ['selector' => ['type' => 'TextQuoteSelector', 'exact' => 'door']]];

    /** @param list<string|null> $ids */
    #[DataProvider('files')]
    public function testOneAListOrAPage(mixed $data, array $ids): void
    {
        self::assertSame($ids,
            array_map(static fn ($mark): ?string => $mark->id, MarkFile::read(json_encode($data, \JSON_THROW_ON_ERROR))));
    }

    /** @return iterable<string, array{mixed, list<string|null>}> */
    public static function files(): iterable
    {
        yield 'one' => [self::MARK, ['urn:a']];
        yield 'a list' => [[self::MARK, self::MARK, 5], ['urn:a', 'urn:a', null]];
        yield 'a page' => [['type' => 'AnnotationPage', 'items' => [self::MARK]], ['urn:a']];
        yield 'a page without any' => [['type' => ['AnnotationPage']], []];
        yield 'a collection' => [['type' => 'AnnotationCollection', 'first' => ['items' => [self::MARK]]], ['urn:a']];
    }

    /**
     * @param array<mixed> $selector
     * @param array{string, string, string}|null $quote
     */
    #[DataProvider('selectors')]
    public function testSelectors(array $selector, ?array $quote, ?string $problem = null): void
    {
        [$mark] = MarkFile::read(json_encode(['target' => ['source' => 'x', 'selector' => $selector]], \JSON_THROW_ON_ERROR));
        self::assertSame($quote, null === $mark->quote ? null : [$mark->quote->exact, $mark->quote->prefix, $mark->quote->suffix]);
        self::assertSame(null === $problem, null === $mark->problem, (string) $mark->problem);
        self::assertStringContainsString((string) $problem, (string) $mark->problem);
    }

    /** @return iterable<string, array{0: array<mixed>, 1: array{string, string, string}|null, 2?: string}> */
    public static function selectors(): iterable
    {
        $door = ['type' => 'TextQuoteSelector', 'exact' => 'stern door', 'prefix' => 'The ', 'suffix' => ' leaked'];
        yield 'words' => [$door, ['stern door', 'The', 'leaked']];
        yield 'several' => [[['type' => 'TextPositionSelector', 'start' => 4, 'end' => 9], $door], ['stern door', 'The', 'leaked']];
        yield 'a position alone' => [['type' => 'TextPositionSelector', 'start' => 4, 'end' => 9], null];
        yield 'an empty position' => [['type' => 'TextPositionSelector', 'start' => 4, 'end' => 4], null, 'empty'];
        yield 'an element refined by words' => [['type' => 'CssSelector', 'value' => '#n', 'refinedBy' => $door],
            ['stern door', 'The', 'leaked']];
        yield 'words refined by words' => [
            $door + ['refinedBy' => ['type' => 'TextQuoteSelector', 'exact' => 'door']], ['door', 'The stern', 'leaked'],
        ];
        yield 'words refined by a position' => [
            $door + ['refinedBy' => ['type' => 'TextPositionSelector', 'start' => 0, 'end' => 5]], ['stern', 'The', 'door leaked'],
        ];
        yield 'an element refined by a position is no position on the page' => [
            ['type' => 'CssSelector', 'value' => '#n', 'refinedBy' => ['type' => 'TextPositionSelector', 'start' => 0, 'end' => 5]],
            null, 'CssSelector',
        ];
        yield 'a part of a picture' => [['type' => 'FragmentSelector', 'value' => 'xywh=pixel:1,1,2,2'], null, 'FragmentSelector'];
        yield 'no words' => [['type' => 'TextQuoteSelector', 'exact' => " \n"], null, 'empty'];
        yield 'wrong types' => [['type' => 'TextQuoteSelector', 'exact' => 5, 'prefix' => []], null, 'empty'];
        yield 'nothing' => [[], null, 'no selector'];
    }

    #[DataProvider('unreadable')]
    public function testWhatHoldsNoMarksIsRefused(string $json): void
    {
        $this->expectException(UnreadableMarks::class);
        MarkFile::read($json);
    }

    /** @return iterable<string, array{string}> */
    public static function unreadable(): iterable
    {
        yield 'nothing' => [''];
        yield 'no JSON' => ['{"target": '];
        yield 'a number' => ['7'];
        yield 'something else' => ['{"name": "x"}'];
        yield 'too deep' => [str_repeat('[', 100).str_repeat(']', 100)];
        yield 'too many' => ['['.str_repeat('1,', MarkFile::MOST_MARKS + 1).'1]'];
    }

    public function testWhateverStandsInTheFile(): void
    {
        $chance = new Chance(5);
        $json = json_encode([self::MARK, ['target' => [['selector' => [['type' => 'RangeSelector', 'startSelector' => self::MARK]]]]]],
            \JSON_THROW_ON_ERROR);
        $read = 0;
        for ($round = 0; $round < 2_000; ++$round) {
            $mutated = $json;
            for ($n = $chance->between(1, 4); $n > 0; --$n) {
                $mutated = substr_replace($mutated, $chance->of(['"', '{', '[', ':', ',', "\xFF", 'null', '5', '']),
                    $chance->between(0, \strlen($mutated)), $chance->between(0, 3));
            }
            try {
                $read += \count(MarkFile::read($mutated));
            } catch (UnreadableMarks $e) {
                self::assertNotSame('', $e->getMessage());
            }
        }
        self::assertGreaterThan(100, $read);
    }
}
