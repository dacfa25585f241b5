<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Search;

use PHPUnit\Framework\TestCase;
use Ypomna\Core\Search\PictureTable;

final class PictureTableTest extends TestCase
{
    private const HEAD = "level\tpage_num\tblock_num\tpar_num\tline_num\tword_num\tleft\ttop\twidth\theight\tconf\ttext\n";

    public function testWordsAreParagraphsInTheirOrder(): void
    {
        $table = self::HEAD.self::row(1, 1, 1, 'The', 96).self::row(1, 1, 1, 'seal', 91.5).self::row(1, 1, 2, 'leaks.', 90)
            .self::row(1, 2, 1, 'Second', 88).self::row(2, 1, 1, 'Θάλασσα', 77);
        self::assertSame(['The seal leaks.', 'Second', 'Θάλασσα'], PictureTable::paragraphs($table));
    }

    public function testAWordThatIsPartedAtTheEndOfItsLineIsOne(): void
    {
        $table = self::HEAD.self::row(1, 1, 1, 'in-', 96).self::row(1, 1, 2, 'spection', 96).self::row(1, 2, 1, 'Bow-', 96)
            .self::row(1, 2, 2, 'Door', 96);
        self::assertSame(['inspection', 'Bow- Door'], PictureTable::paragraphs($table));
    }

    public function testWhatItIsNotSureOfIsNoWord(): void
    {
        $table = self::HEAD.self::row(1, 1, 1, 'shade', 31).self::row(1, 1, 1, '|', 95).self::row(2, 1, 1, '—', 95)
            .self::row(3, 1, 1, '東', 90).self::row(4, 1, 1, '', 96);
        self::assertSame(['東'], PictureTable::paragraphs($table));
    }

    public function testAnythingIsSurvived(): void
    {
        mt_srand(4);
        $table = self::HEAD.self::row(1, 1, 1, 'The', 96).self::row(1, 1, 2, "wo\tr\td", 96)."5\t1\n\t\t\t\n5\t\t\t\t\t\t\t\t\t\t\t\n";
        for ($n = 0; $n < 500; ++$n) {
            $bytes = $table;
            for ($times = 0; $times < 4; ++$times) {
                $bytes[mt_rand(0, \strlen($bytes) - 1)] = \chr(mt_rand(0, 255));
            }
            foreach (PictureTable::paragraphs($bytes) as $text) {
                self::assertTrue(mb_check_encoding($text, 'UTF-8'));
                self::assertStringNotContainsString("\n", $text);
            }
        }
    }

    public function testItIsBounded(): void
    {
        $row = self::row(1, 1, 1, str_repeat('a', 1_000), 96);
        self::assertLessThanOrEqual(1_060_000, \strlen(PictureTable::paragraphs(self::HEAD.str_repeat($row, 3_000))[0]));
    }

    private static function row(int $block, int $paragraph, int $line, string $word, float $sure): string
    {
        return "5\t1\t{$block}\t{$paragraph}\t{$line}\t1\t10\t10\t40\t20\t{$sure}\t{$word}\n";
    }
}
