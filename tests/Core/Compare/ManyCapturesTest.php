<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Compare;

use PHPUnit\Framework\TestCase;
use Ypomna\Core\Compare\Fingerprint;
use Ypomna\Core\Compare\Lifeline;
use Ypomna\Core\Compare\Lifelines;
use Ypomna\Core\Compare\SharedText;
use Ypomna\Core\Page\Document;
use Ypomna\Core\Page\Passage;
use Ypomna\Tests\Support\Edited\Chance;
use Ypomna\Tests\Support\Edited\Sentences;

/** Many captures of a page, and the same text elsewhere. */
final class ManyCapturesTest extends TestCase
{
    private const HISTORY = [
        '<h1>Notice</h1><p>The crew measured 40 centimetres of water. Nobody was hurt that day.',
        '<h1>Notice</h1><p>The crew measured 14 centimetres of water. Nobody was hurt that day.',
        '<h1>Notice</h1><p>Refunds are paid at the booking office. The crew measured 14 centimetres of water.',
        '<h1>Notice</h1><p>Refunds are paid at the booking office. The crew measured 14 centimetres of water. Nobody was hurt that day.',
    ];

    public function testEachPassageHasALineWithItsWordingsAndGaps(): void
    {
        $lines = self::drawn(self::HISTORY);
        $told = [];
        foreach ($lines->byPlace() as $line) {
            $told[$line->wordings[0][1]] = [$line->spans, array_column($line->wordings, 0)];
        }
        self::assertSame([[[0, 3]], [0]], $told['Notice']);
        self::assertSame([[[0, 3]], [0, 1]], $told['The crew measured 40 centimetres of water.']);
        self::assertSame([[[2, 3]], [2]], $told['Refunds are paid at the booking office.']);
        self::assertSame([[[0, 1], [3, 3]], [0]], $told['Nobody was hurt that day.']);
        $crew = array_values(array_filter($lines->byTime(), static fn (Lifeline $line): bool => $line->says('crew')))[0];
        self::assertSame(
            ['The crew measured 40 centimetres of water.', 'The crew measured 14 centimetres of water.'], [$crew->at(0), $crew->at(2)],
        );
        $hurt = array_values(array_filter($lines->byTime(), static fn (Lifeline $line): bool => $line->says('HURT')))[0];
        self::assertNull($hurt->at(2));
        self::assertFalse($hurt->says('refund'));
    }

    public function testLinesThatWereBrokenOffGoOnAsIfTheyHadNotBeen(): void
    {
        $whole = self::drawn(self::HISTORY);
        $half = self::drawn(\array_slice(self::HISTORY, 0, 2));
        $again = Lifelines::unpack($half->pack());
        self::assertNotNull($again);
        foreach (\array_slice(self::HISTORY, 2, null, true) as $n => $html) {
            $again->add($n, "2024-0{$n}-01T00:00:00Z", self::passages($html));
        }
        self::assertEquals($whole->byPlace(), $again->byPlace());
        self::assertSame($whole->captures(), $again->captures());
        self::assertNull(Lifelines::unpack('x'));
        self::assertNull(Lifelines::unpack((string) gzcompress('{"version": 0}')));
    }

    public function testTheLinesOfAPageFollowItsOrder(): void
    {
        $texts = array_map(static fn (Lifeline $line): string => $line->wordings[0][1], self::drawn(self::HISTORY)->byPlace());
        self::assertLessThan(
            array_search('The crew measured 40 centimetres of water.', $texts, true),
            array_search('Refunds are paid at the booking office.', $texts, true),
        );
        self::assertSame('Notice', $texts[0]);
    }

    public function testFingerprintsTellHowMuchIsShared(): void
    {
        $sentences = new Sentences(new Chance(4), 'en');
        $text = array_map(static fn (): string => $sentences->one(), range(1, 120));
        $print = static fn (array $list): Fingerprint =>
            Fingerprint::of(self::passages('<p>'.implode('<p>', array_filter($list, \is_string(...)))))
            ?? throw new \LogicException('too short');
        $whole = $print($text);
        self::assertSame(1.0, $whole->likeness(Fingerprint::unpack($whole->pack())));
        $others = new Sentences(new Chance(991), 'de');
        $half = $print([...\array_slice($text, 0, 80), ...array_map(static fn (): string => $others->one(), range(1, 40))]);
        $none = $print(array_map(static fn (): string => $others->one(), range(1, 100)));
        self::assertGreaterThan(0.3, $whole->likeness($half));
        self::assertLessThan(0.95, $whole->likeness($half));
        self::assertLessThan(0.2, $whole->likeness($none));
        self::assertNotSame([], array_intersect_assoc($whole->bands(), $half->bands()));
        self::assertSame([], array_intersect_assoc($whole->bands(), $none->bands()));
        self::assertNull(Fingerprint::of(self::passages('<p>Too short.')));
    }

    public function testSharedPassagesAreFoundWhateverStandsBetween(): void
    {
        $shared = SharedText::of(
            self::passages('<p>Own words begin this page here.<p>The seal was replaced three times in 2024. Nobody was told of it at all.'),
            self::passages(
                '<h1>Other</h1><p>Nobody was told of it at all. Something quite different follows.<p>The seal was replaced four times in'
                    .' 2024.',
            ),
        );
        self::assertSame(
            [
                ['The seal was replaced three times in 2024.', 'The seal was replaced four times in 2024.'],
                ['Nobody was told of it at all.', 'Nobody was told of it at all.'],
            ],
            array_map(static fn (array $one): array => [$one[0]->text, $one[1]->text], $shared->passages),
        );
        self::assertSame(1.0, $shared->passages[1][2]);
        self::assertGreaterThan(0.5, $shared->ofFirst);
        self::assertLessThan(1.0, $shared->ofSecond);
    }

    /** @param list<string> $history */
    private static function drawn(array $history): Lifelines
    {
        $lines = new Lifelines();
        foreach ($history as $n => $html) {
            $lines->add($n, "2024-0{$n}-01T00:00:00Z", self::passages($html));
        }

        return $lines;
    }

    /**
     * @return list<Passage>
     */
    private static function passages(string $html): array
    {
        return Document::fromHtml('<!doctype html>'.$html, 'text/html; charset=utf-8')->passages;
    }
}
