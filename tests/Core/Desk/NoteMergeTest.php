<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Desk;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Desk\NoteMerge;

final class NoteMergeTest extends TestCase
{
    private const BASE = "# The door\n\nIt was shut.\n\n- [ ] ask the mate\n- [ ] ask the yard\n\nEnd.";

    /** @return iterable<string, array{string, string, string, string}> base, mine, theirs, what becomes of it */
    public static function decided(): iterable
    {
        $with = static fn (string $from, string $to, string $text = self::BASE): string => str_replace($from, $to, $text);
        yield 'nobody changed anything' => [self::BASE, self::BASE, self::BASE, self::BASE];
        yield 'only mine' => [self::BASE, $with('shut', 'open'), self::BASE, $with('shut', 'open')];
        yield 'only theirs' => [self::BASE, self::BASE, $with('shut', 'open'), $with('shut', 'open')];
        yield 'both the same' => [self::BASE, $with('shut', 'open'), $with('shut', 'open'), $with('shut', 'open')];
        yield 'two places' => [self::BASE, $with('# The door', '# The stern door'), $with('End.', 'The end.'),
            $with('End.', 'The end.', $with('# The door', '# The stern door'))];
        yield 'one ticks, one writes' => [self::BASE, $with('[ ] ask the mate', '[x] ask the mate'),
            $with('It was shut.', 'It was not shut.'),
            $with('It was shut.', 'It was not shut.', $with('[ ] ask the mate', '[x] ask the mate'))];
        yield 'one takes away, one adds elsewhere' => [self::BASE, $with("It was shut.\n\n", ''), self::BASE."\n\nMore.",
            $with("It was shut.\n\n", '')."\n\nMore."];
        yield 'both add at the end' => [self::BASE, self::BASE."\n\nMine.", self::BASE."\n\nTheirs.", self::BASE."\n\nTheirs.\n\nMine."];
        yield 'both begin an empty note' => ['', 'Mine.', 'Theirs.', "Theirs.\nMine."];
        yield 'line ends stand' => ["a\n", "a\nb\n", "c\na\n", "c\na\nb\n"];
    }

    #[DataProvider('decided')]
    public function testWhatOnlyOneChangedIsTaken(string $base, string $mine, string $theirs, string $becomes): void
    {
        self::assertSame($becomes, NoteMerge::of($base, $mine, $theirs)->text());
    }

    public function testWhatBothChangedOtherwiseIsShownSideBySide(): void
    {
        $merged = NoteMerge::of("a\nshut\nz", "a\nopen\nz", "a\najar\nz\nmore");
        self::assertNull($merged->text());
        self::assertSame([['a'], ['open', 'ajar'], ["z\nmore"]], $merged->pieces);
        self::assertSame([['', 'b']], NoteMerge::of('a', '', 'b')->pieces, 'One took away what the other wrote over.');
    }

    /** Whatever both do, no line that one of them wrote is lost. */
    public function testNothingIsLost(): void
    {
        mt_srand(7);
        for ($n = 0; $n < 2_000; ++$n) {
            $base = array_map(static fn (): string => 'line '.mt_rand(0, 6), range(0, mt_rand(0, 12)));
            [$mine, $theirs] = [self::changed($base, 'mine '), self::changed($base, 'theirs ')];
            $merged = NoteMerge::of(implode("\n", $base), implode("\n", $mine), implode("\n", $theirs));
            $all = explode("\n", implode("\n", array_map(static fn (array $piece): string => implode("\n", $piece), $merged->pieces)));
            foreach ([...$mine, ...$theirs] as $line) {
                if (1 === preg_match('/^(mine|theirs) /', $line)) {
                    self::assertContains($line, $all);
                }
            }
        }
    }

    /**
     * @param list<string> $lines
     *
     * @return list<string>
     */
    private static function changed(array $lines, string $by): array
    {
        for ($n = mt_rand(0, 3); $n > 0; --$n) {
            $at = mt_rand(0, \count($lines));
            array_splice($lines, $at, mt_rand(0, 2), 0 === mt_rand(0, 2) ? [] : [$by.mt_rand(0, 999)]);
        }

        return $lines;
    }
}
