<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Text;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Matches;
use Ypomna\Core\PlainText;
use Ypomna\Core\ShellWord;
use Ypomna\Core\Split;

/** What pages say, where signs could steer something. */
final class PlainTextTest extends TestCase
{
    public function testNothingSteersATerminalAFeedOrAMail(): void
    {
        $said = "Ferry\e]0;owned\x07 \e[2Jat\r\n.\r\nBcc: x\x00\u{9b}31m \u{202E}gnp.exe\u{2069}\u{2028}end\xFF";
        self::assertSame(
            0, preg_match('/[\x00-\x1F\x7F\x{80}-\x{9F}\x{202A}-\x{202E}\x{2066}-\x{2069}\x{2028}]/u', PlainText::line($said)),
        );
        self::assertSame(0, preg_match('/[\x00-\x08\x0B-\x1F\x7F\x{80}-\x{9F}\x{202A}-\x{202E}]/u', PlainText::lines($said)));
        self::assertStringContainsString("\n.\n", PlainText::lines($said));
        self::assertSame("Ένα πλοίο\tשלום 日本 👩‍🚒", PlainText::lines("Ένα πλοίο\tשלום 日本 👩‍🚒"));
        self::assertSame("l'île d’été", PlainText::line("  l'île\nd’été "));
    }

    #[DataProvider('words')]
    public function testAWordOfACommandLineMeansItself(string $word): void
    {
        $quoted = ShellWord::quote($word);
        self::assertStringNotContainsString("\n", $quoted);
        exec('printf %s '.$quoted, $lines, $status);
        self::assertSame([0, $word], [$status, implode("\n", $lines)]);
    }

    /** @return iterable<array{string}> */
    public static function words(): iterable
    {
        foreach ([
            "it's", "';touch /tmp/owned;'", '$(id)`id`', '"; id; "', '\\', "\\'", '!!', '*', '~', '-rf', "''", 'Ένα πλοίο', '%s%n', '#',
            '&&id', '>x',
        ] as $word) {
            yield $word => [$word];
        }
    }

    public function testLineEndsAndHiddenSignsAreTakenOut(): void
    {
        self::assertSame("'aid'", ShellWord::quote("a\n\r\x00i\u{202E}\u{200B}\u{2028}d"));
    }

    #[DataProvider('addresses')]
    public function testAnAddressKeepsWhatItLeadsTo(string $given, string $shown): void
    {
        self::assertSame($shown, ShellWord::address($given));
    }

    /** @return iterable<array{string, string}> */
    public static function addresses(): iterable
    {
        yield ['http://lantern.test/a?b=c&d=%20e', 'http://lantern.test/a?b=c&d=%20e'];
        yield ["http://lantern.test/\n\$(id)", 'http://lantern.test/%0A$(id)'];
        yield ['http://lantern.test/`id`|<x>"', 'http://lantern.test/%60id%60%7C%3Cx%3E%22'];
        yield ["http://lantern.test/\u{202E}x", 'http://lantern.test/%E2%80%AEx'];
    }

    #[DataProvider('splits')]
    public function testPiecesOneBehindTheOtherAreTheSameAsAllAtOnce(string $text): void
    {
        foreach (['/,/', '/\s+/', '/(?<=\.) /', '/\n|$/'] as $pattern) {
            $where = 0;
            $at = $pieces = [];
            foreach (Split::each($pattern, $text, $where) as $piece) {
                $pieces[] = $piece;
                $at[] = $where;
            }
            if ('/\n|$/' !== $pattern) {
                self::assertSame(Split::by($pattern, $text), $pieces);
            }
            foreach ($pieces as $n => $piece) {
                self::assertSame($piece, substr($text, $at[$n], \strlen($piece)));
            }
        }
    }

    /** @return iterable<array{string}> */
    public static function splits(): iterable
    {
        foreach (['', ',', ',,', 'a', 'a,b', ',a,', "a b\n c. D. e", 'ä,ö ü'] as $text) {
            yield [$text];
        }
    }

    public function testMatchesAreThoseOfAllAtOnce(): void
    {
        $text = 'a=1, b=, c=33';
        preg_match_all('/(\w)=(\d*)/', $text, $all, \PREG_SET_ORDER | \PREG_OFFSET_CAPTURE);
        self::assertSame(
            array_map(static fn (array $m): array => [$m[0][1], array_column($m, 0)], $all),
            array_map(
                static fn (int $at, array $m): array => [$at, $m],
                array_keys($found = iterator_to_array(Matches::of('/(\w)=(\d*)/', $text))),
                $found,
            ),
        );
        self::assertCount(2, [...Matches::of('/\w/', $text, 2)]);
        self::assertCount(4, [...Matches::of('//', 'abc')], 'one that is empty does not stand still');
    }
}
