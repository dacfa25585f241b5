<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Annotation;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Annotation\Mark;
use Ypomna\Core\Annotation\Place;
use Ypomna\Core\Annotation\Placement;
use Ypomna\Core\Annotation\Placing;
use Ypomna\Core\Annotation\Quote;
use Ypomna\Core\Page\Document;
use Ypomna\Tests\Support\Edited\Chance;

/** Where a mark of one capture stands on another, with and without the page that it was made on. */
final class PlacingTest extends TestCase
{
    private const PAGE = '<h1>Notice</h1><p>The ferry Petrel Dawn left Merrow at noon with 12 passengers. Nobody was hurt. The stern door'
        .' leaked.</p><p>More</p><p>Read our fares. More about the fleet.</p><ul><li>Contact</li><li>Home</li></ul>';
    private const TABLE = '<table><tr><th>Day<th>Dep<th>Arr<tr><td>Mon<td>08:10<td>09:00<tr><td>Tue<td>08:10<td>09:30</table>';

    /** @param array{string, string, string} $quote */
    #[DataProvider('changes')]
    public function testAMarkOnAnotherCapture(array $quote, string $new, ?string $text, Place $place, ?string $old = null): void
    {
        foreach ([null, $old ?? self::PAGE] as $from) {
            $placed = self::place($quote, $new, $from);
            self::assertSame([$place, $text], [$placed->place, $placed->text], null === $from ? 'by quotation' : 'old page known');
            self::assertSame(null === $from ? null : false, $placed->moved);
            if (null !== $text) {
                $whole = Document::fromHtml($new)->text();
                self::assertSame($text, mb_substr($whole, (int) $placed->start, (int) $placed->end - (int) $placed->start));
                self::assertContains($placed->passage, explode("\n", $whole));
            }
        }
    }

    /** @return iterable<string, array{0: array{string, string, string}, 1: string, 2: string|null, 3: Place, 4?: string}> */
    public static function changes(): iterable
    {
        $passengers = ['12 passengers', 'left Merrow at noon with ', '. Nobody was hurt.'];
        $with = static fn (string $old, string $new): string => str_replace($old, $new, self::PAGE);
        yield 'nothing' => [$passengers, self::PAGE, '12 passengers', Place::Same];
        yield 'a number' => [$passengers, $with('12 pass', '14 pass'), '14 passengers', Place::Reworded];
        yield 'words put in' => [$passengers, $with('12 pass', '12 frightened pass'), '12 frightened passengers', Place::Reworded];
        yield 'words put in beside' => [$passengers, $with('12 pass', 'about 12 pass'), '12 passengers', Place::Same];
        yield 'other letters' => [['Petrel Dawn', 'The ferry ', ' left'], $with('Petrel Dawn', 'petrel dawn'), 'petrel dawn',
            Place::Reworded];
        yield 'other quotation marks' => [
            ['"stern door"', 'The ', ' leaked'], $with('stern door', '“stern door”'), '“stern door”', Place::Reworded,
            $with('stern door', '"stern door"'),
        ];
        yield 'quotation marks around' => [['stern door', 'The ', ' leaked'], $with('stern door', '“stern door”'), 'stern door',
            Place::Same];
        yield 'a word' => [['leaked', 'The stern door ', '. More'], $with('leaked', 'leaks'), 'leaks', Place::Reworded];
        yield 'a sentence' => [
            ['The stern door leaked.', 'Nobody was hurt. ', 'More'], $with('leaked', 'leaked a little at sea'),
            'The stern door leaked a little at sea.', Place::Reworded,
        ];
        yield 'a sentence replaced' => [
            ['The stern door leaked.', 'Nobody was hurt. ', 'More Read our'],
            $with('The stern door leaked.', 'Every Friday the library shuts.'),
            null, Place::Gone,
        ];
        yield 'a sentence removed' => [
            ['Nobody was hurt.', 'with 12 passengers. ', ' The stern door'], $with('Nobody was hurt. ', ''), null, Place::Gone,
        ];
        yield 'a short word elsewhere' => [
            ['More', 'Read our fares. ', ' about the fleet.'], $with(' More about the fleet.', ''), null, Place::Gone,
        ];
        yield 'of several places that with the right surroundings' => [
            ['More', 'Read our fares. ', ' about the fleet.'], self::PAGE, 'More', Place::Same,
        ];
        yield 'one side of the surroundings' => [
            $passengers, '<p>Yesterday a boat left Merrow at noon with 12 passengers. Something else.', '12 passengers', Place::Same,
        ];
        yield 'over several passages' => [
            ['passengers. Nobody was hurt. The stern', 'with 12 ', ' door leaked'], $with('was hurt', 'was badly hurt'),
            "passengers.\nNobody was badly hurt.\nThe stern", Place::Reworded,
        ];
        yield 'over several passages, as a browser gives them' => [
            ["12 passengers. Nobody was\n hurt. The stern door leaked.\n\nMore", 'with ', "\nRead our"], $with('noon', 'one'),
            "12 passengers.\nNobody was hurt.\nThe stern door leaked.\nMore", Place::Same,
        ];
        yield 'put together without white space' => [
            ['leaked.MoreRead', 'The stern door ', 'our fares.'], self::PAGE, "leaked.\nMore\nRead", Place::Same,
        ];
        yield 'markup, blanks and soft hyphens inside' => [
            ["Petrel\n  Dawn", 'The ferry ', ' left'], $with('Petrel Dawn', 'Pet&shy;rel<b>&nbsp;D</b>awn'), 'Petrel Dawn', Place::Same,
        ];
        yield 'composed and decomposed' => [['Café', 'The ', ' is'], "<p>The Cafe\u{301} is open now.", 'Café', Place::Same,
            '<p>The Café is open now.'];
        yield 'a piece of a word' => [['passenger', 'noon with 12 ', 's. Nobody'], $with('noon', 'one'), 'passenger', Place::Same];
        yield 'in another layout' => [
            $passengers, '<table><tr><td width=200>x<td>'.self::PAGE.'</table>', '12 passengers', Place::Same,
        ];
        yield 'a cell' => [
            ['08:10', '09:00 Tue ', ' 09:30'], str_replace('Tue<td>08:10', 'Tue<td>10:20', self::TABLE), '10:20', Place::Reworded,
            self::TABLE,
        ];
        yield 'a cell of another row' => [
            ['08:10', 'Mon ', ' 09:00'], str_replace('Tue<td>08:10', 'Tue<td>10:20', self::TABLE), '08:10', Place::Same, self::TABLE,
        ];
        yield 'nothing but the surroundings' => [['', 'noon with ', ' Nobody'], self::PAGE, '12 passengers.', Place::Same];
        yield 'a page without text' => [$passengers, '<title>x</title>', null, Place::Gone];
        yield 'Japanese' => [
            ['水深14センチ', '検査官は船尾扉の後ろで', 'を測りました。'], '<p>検査官は船尾扉の後ろで水深20センチを測りました。乗客は無事だった。', '水深20センチ', Place::Reworded,
            '<p>検査官は船尾扉の後ろで水深14センチを測りました。乗客は無事だった。',
        ];
    }

    public function testWordsTakenOutOfAPassageThatStandsNameThatPassage(): void
    {
        $new = str_replace(' with 12 passengers', '', self::PAGE);
        foreach ([null, self::PAGE] as $from) {
            $placed = self::place(['with 12 passengers', 'left Merrow at noon ', '. Nobody was'], $new, $from);
            self::assertSame(Place::Gone, $placed->place);
            self::assertSame('The ferry Petrel Dawn left Merrow at noon.', $placed->passage);
            self::assertNull($placed->start);
        }
    }

    public function testAPassageThatMovedIsTheSameAndSaysSo(): void
    {
        $new = '<h1>Notice</h1><p>The stern door leaked.</p><p>Read our fares. More about the fleet.</p><p>The ferry Petrel Dawn left'
            .' Merrow'
            .' at noon with 12 passengers. Nobody was hurt.</p>';
        $placed = self::place(['stern door', 'Nobody was hurt. The ', ' leaked.'], $new, self::PAGE);
        self::assertSame([Place::Same, true], [$placed->place, $placed->moved]);
        self::assertSame(Place::Same, self::place(['The stern door leaked.', 'hurt. ', 'More'], $new, null)->place);
    }

    public function testAPositionHelpsWhereWordsStandSeveralTimes(): void
    {
        $page = Document::fromHtml('<p>Held in port.</p><p>Held in port.</p><p>Held in port.</p>');
        [$placed] = Placing::all([new Mark('a', new Quote('port'), 36, 40)], $page);
        self::assertSame([36, 40], [$placed->start, $placed->end]);
        [$placed] = Placing::all([new Mark('a', new Quote('port'), around: 'p:nth-of-type(2)')], $page);
        self::assertSame(22, $placed->start);
        [$placed] = Placing::all([new Mark('a', new Quote('port'), around: '][')], $page);
        self::assertSame(8, $placed->start);
    }

    public function testAPositionAloneNeedsThePageItWasMadeOn(): void
    {
        $old = Document::fromHtml(self::PAGE);
        $new = Document::fromHtml(str_replace('12 pass', '14 pass', self::PAGE));
        $at = (int) mb_strpos($old->text(), '12 passengers');
        $mark = new Mark('a', null, $at, $at + 13);
        self::assertSame('14 passengers', Placing::all([$mark], $new, $old)[0]->text);
        [$placed] = Placing::all([$mark], $new);
        self::assertNull($placed->place);
        self::assertStringContainsString('--from', (string) $placed->problem);
        self::assertNull(Placing::all([new Mark('a', null, 90_000, 90_001)], $new, $old)[0]->place);
    }

    /** A passage that another one had already is not the marked one. */
    public function testWhatStoodElsewhereBeforeIsNotTheMarkedPlace(): void
    {
        $old = '<p>A long sentence that stands here twice. <p>One thing is between. <p>A long sentence that stands here twice. <p>The'
            .' end of it.';
        $new = '<p>A long sentence that stands here twice. <p>One thing is between. <p>The end of it.';
        $placed = self::place(['A long sentence that stands here twice.', 'One thing is between. ', ' The end'], $new, $old);
        self::assertSame(Place::Gone, $placed->place);
    }

    public function testNoPageAndNoMarkIsTooMuch(): void
    {
        $long = '<p>'.str_repeat('a1 ', 60_000).'<p>Stern door.';
        $marks = array_map(static fn (int $n): Mark => new Mark((string) $n, new Quote(str_repeat('a1 ', $n % 40 + 1).'b', 'x', 'y')),
            range(1, 60));
        $marks[] = new Mark('door', new Quote('Stern door'));
        $placed = Placing::all($marks, Document::fromHtml($long), Document::fromHtml('<p>Stern door.'));
        self::assertSame(Place::Same, $placed[60]->place);
        self::assertLessThan(256 * 1_048_576, memory_get_peak_usage());
    }

    /** Whatever stands in a page or in a quotation: what is told of it is true. */
    public function testWhateverTheInput(): void
    {
        $chance = new Chance(11);
        $pieces = ['The ferry', ' left ', "\u{301}", "\xFF", '<b>', '12', '.', ' ', "\u{AD}", '。', '港', "\n", '<td>', 'x:1', "\u{200D}",
            '</p>', '🛳️'];
        for ($round = 0; $round < 300; ++$round) {
            $html = static fn (): string => '<p>'.implode('', array_map(static fn (): string => $chance->of($pieces), range(1, 40)));
            $old = Document::fromHtml($html());
            $new = Document::fromHtml(0 === $chance->between(0, 2) ? $html() : $html().$html());
            $text = $old->text();
            $at = $chance->between(0, 20);
            $quote = new Quote(mb_substr($text, $at, $chance->between(1, 30)), mb_substr($text, max(0, $at - 9), min(9, $at)),
                $chance->of($pieces));
            foreach (Placing::all([new Mark(null, $quote)], $new, 0 === $round % 2 ? $old : null) as $placed) {
                self::assertNotNull($placed->place);
                if (null !== $placed->start && null !== $placed->end) {
                    self::assertSame($placed->text, mb_substr($new->text(), $placed->start, $placed->end - $placed->start));
                }
            }
        }
    }

    /** @param array{string, string, string} $quote */
    private static function place(array $quote, string $new, ?string $old): Placement
    {
        $type = 'text/html; charset=utf-8';

        return Placing::all(
            [new Mark('a', new Quote(...$quote))], Document::fromHtml($new, $type), null === $old ? null : Document::fromHtml($old, $type),
        )[0];
    }
}
