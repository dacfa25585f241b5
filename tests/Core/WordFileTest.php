<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\WordFile;

/** Word lists in files of their own become regular expressions. */
final class WordFileTest extends TestCase
{
    public function testWordsAreAlternativesAndGroupsMayStandInOneAnother(): void
    {
        $file = <<<'TXT'
            # Boats.
            [boats]
            ferry

            \b(?:
              sloops?
              (?:
                tug
                pilot
              ) ?boat
            )\b
            [none.at-all]
            [number]
            ^(?:(?:
              no
              nr
            )\W*)*(?:
              1
              2
            )$
            TXT;
        self::assertSame(
            ['boats' => 'ferry|\b(?:sloops?|(?:tug|pilot) ?boat)\b', 'none.at-all' => '', 'number' => '^(?:(?:no|nr)\W*)*(?:1|2)$'],
            WordFile::parse(str_replace("\n", "\r\n", $file)),
        );
    }

    #[DataProvider('broken')]
    public function testWhatIsBrokenIsNotReadAsSomethingElse(string $file): void
    {
        $this->expectException(\RuntimeException::class);
        WordFile::parse($file);
    }

    /** @return iterable<string, array{string}> */
    public static function broken(): iterable
    {
        yield 'a word before any section' => ["ferry\n[boats]"];
        yield 'a group that is not closed' => ["[boats]\n(?:\nferry"];
        yield 'an end without a group' => ["[boats]\nferry\n)"];
    }

    #[DataProvider('files')]
    public function testEverySectionOfOursIsAnExpression(string $path, int $sections): void
    {
        $read = WordFile::read(\dirname(__DIR__, 2).'/core/'.$path);
        self::assertCount($sections, $read);
        foreach ($read as $name => $expression) {
            self::assertNotSame('', $expression, $name);
            self::assertNotFalse(@preg_match('/'.$expression.'/iu', ''), $name);
            self::assertDoesNotMatchRegularExpression('/\|\||\|\)|\(\?:\|/', $expression, $name.' has an empty word');
            // A page that waits may say nothing at all.
            self::assertSame('waiting' === $name ? 1 : 0, preg_match('/'.$expression.'/iu', ''), $name);
        }
    }

    /** @return iterable<array{string, int}> */
    public static function files(): iterable
    {
        yield ['Completeness/trouble-words.txt', 115];
        yield ['Compare/telling-words.txt', 3];
    }
}
