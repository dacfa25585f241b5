<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Search;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Search\Clause;
use Ypomna\Core\Search\Question;

final class QuestionTest extends TestCase
{
    /** @param list<string> $clauses */
    #[DataProvider('questions')]
    public function testAnyTextIsAQuestion(string $asked, array $clauses): void
    {
        self::assertSame($clauses, array_map(static fn (Clause $one): string => ($one->isExcluded ? '-' : '')
            .(\count($one->words) > 1 ? '"'.implode(' ', $one->words).'"' : $one->words[0]).($one->isBeginning ? '*' : ''),
            Question::of($asked)->clauses));
    }

    /** @return iterable<string, array{string, list<string>}> */
    public static function questions(): iterable
    {
        yield 'nothing' => ['', []];
        yield 'signs' => [' " - * -* "" ', []];
        yield 'words' => ['Forty  centimetres', ['forty', 'centimetres']];
        yield 'a phrase' => ['"grey seal" door', ['"grey seal"', 'door']];
        yield 'other quotation marks' => ['“a b” „c d“ «e f»', ['"a b"', '"c d"', '"e f"']];
        yield 'one that is not closed' => ['door "grey seal', ['door', '"grey seal"']];
        yield 'excluded' => ['door -seal -"grey door"', ['door', '-seal', '-"grey door"']];
        yield 'a hyphen inside' => ['well-known', ['"well known"']];
        yield 'a beginning' => ['cent* *x y**', ['cent*', 'x', 'y*']];
        yield 'Japanese' => ['東京都', ['"東京 京都"']];
        yield 'one letter of it' => ['京', ['京*']];
        yield 'operators of other programs' => ['a OR b AND (c) title:d', ['a', 'or', 'b', 'and', 'c', '"title d"']];
        yield 'what could end a command' => ["x' --limit 9 \\ ; drop", ['x', '-limit', '9', 'drop']];
    }

    public function testFormsAreLookedForOfSingleWordsAlone(): void
    {
        $inflected = array_map(static fn (Clause $one): bool => $one->isInflected(),
            Question::of('door "seal" fer* well-known 京')->clauses);
        self::assertSame([true, false, false, false, false], $inflected);
    }

    public function testItIsBounded(): void
    {
        $question = Question::of(str_repeat('word ', 2_000));
        self::assertTrue($question->isCut);
        self::assertLessThanOrEqual(64, \count($question->clauses));
        self::assertFalse(Question::of('two words')->isCut);
        mt_srand(3);
        for ($i = 0; $i < 2_000; ++$i) {
            $asked = '';
            for ($n = mt_rand(0, 200); $n > 0; --$n) {
                $asked .= mt_rand(0, 2) > 0
                    ? ['"', '-', '*', ' ', '“', '«', 'x', '京', "\0", "'", '\\'][mt_rand(0, 10)] : \chr(mt_rand(0, 255));
            }
            foreach (Question::of($asked)->clauses as $clause) {
                self::assertMatchesRegularExpression('/^[\p{L}\p{M}\p{N} ]+$/Du', implode(' ', $clause->words), bin2hex($asked));
            }
        }
    }
}
