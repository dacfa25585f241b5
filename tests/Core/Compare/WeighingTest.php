<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Compare;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Compare\ComparisonReport;
use Ypomna\Core\Compare\Habits;
use Ypomna\Core\Compare\Noise\InvalidRule;
use Ypomna\Core\Compare\Noise\NoiseRule;
use Ypomna\Core\Compare\Noise\NoiseRules;
use Ypomna\Core\Compare\Noise\Patience;
use Ypomna\Core\Compare\Noise\Selector;
use Ypomna\Core\Compare\PageComparison;
use Ypomna\Core\Compare\Telling;
use Ypomna\Core\Compare\TellingWords;
use Ypomna\Core\Compare\WeighedChange;
use Ypomna\Core\Compare\Weighing;
use Ypomna\Core\Compare\WordDiff;
use Ypomna\Core\Page\Document;
use Ypomna\Tests\Support\ProcessorTime;

/** What matters, by the page's own history, by names, and by rules that people set. */
final class WeighingTest extends TestCase
{
    /** @param list<string> $weights */
    #[DataProvider('changes')]
    public function testSubstanceSurfaceAndNoise(string $old, string $new, array $weights): void
    {
        self::assertSame(
            $weights,
            array_map(static fn (WeighedChange $w): string => $w->weight->value.' '.$w->reason, self::report($old, $new)->changes),
        );
    }

    /**
     * @return iterable<string, array{string, string, list<string>}>
     */
    public static function changes(): iterable
    {
        yield 'a number in a sentence' => [
            '<p>The crew measured 40 centimetres.', '<p>The crew measured 14 centimetres.', ['substance words'],
        ];
        yield 'a counter' => ['<p>Views: 1,204', '<p>Views: 1,377', ['noise counter']];
        yield 'visitors in a sentence' => [
            '<p>The museum said that 300 visitors came on the first day of the new season.',
            '<p>The museum said that 900 visitors came on the first day of the new season.',
            ['substance words'],
        ];
        yield 'the time of making' => ['<p>Page generated 12 Nov 2024 18:04', '<p>Page generated 5 Dec 2024 10:00', ['noise made-at']];
        yield 'how long ago' => ['<p>Updated 3 hours ago', '<p>Updated 5 hours ago', ['noise made-at']];
        yield 'a cell with a figure' => [
            '<table><tr><td>Views<td>3<tr><td>Ships<td>9</table>',
            '<table><tr><td>Views<td>4<tr><td>Ships<td>9</table>',
            ['substance words'],
        ];
        yield 'an advertisement' => [
            '<div class="side ad-slot"><p>Buy fresh crab at the steps.</div>',
            '<div class="side ad-slot"><p>Oilskins, dry since 1911.</div>',
            ['noise advertisement', 'noise advertisement'],
        ];
        yield 'no advertisement' => [
            '<div class="address-pad"><p>Buy fresh crab at the steps.</div>',
            '<div class="address-pad"><p>Oilskins, dry since 1911.</div>',
            ['substance words', 'substance words'],
        ];
        yield 'other stories' => [
            '<ul id=related><li>Tide tables</ul>', '<ul id=related><li>Choir sings for the boat</ul>', ['noise related', 'noise related'],
        ];
        yield 'punctuation' => ['<p>The door, it said, was shut.', '<p>The door – it said – was shut!', ['surface letters']];
        yield 'a minus is none' => ['<p>It was -5 degrees.', '<p>It was 5 degrees.', ['substance words']];
    }

    /** @param list<Telling> $telling */
    #[DataProvider('words')]
    public function testWhatPeopleLookForIsPointedOut(string $old, string $new, array $telling): void
    {
        self::assertSame($telling, TellingWords::among(WordDiff::between($old, $new)));
    }

    /**
     * @return iterable<string, array{string, string, list<Telling>}>
     */
    public static function words(): iterable
    {
        yield 'number' => ['It was 40 cm deep.', 'It was 14 cm deep.', [Telling::Number]];
        yield 'date' => ['It left on 8 November.', 'It left on 9 November.', [Telling::Number, Telling::Date]];
        yield 'date in figures' => ['Since 2024-11-08 it is shut.', 'Since 2024-11-18 it is shut.', [Telling::Number, Telling::Date]];
        yield 'month' => ['It left in May 2024.', 'It left in June 2024.', [Telling::Date]];
        yield 'name' => ['signed by Edda Marlow in port', 'signed by our office in port', [Telling::Name]];
        yield 'no name' => ['Ships sail.', 'Boats sail.', []];
        yield 'negation' => ['It had been reported.', 'It had not been reported.', [Telling::Negation]];
        yield 'negation, shortened' => ['It was reported.', "It wasn't reported.", [Telling::Negation]];
        yield 'German' => ['Sie wurde gemeldet.', 'Sie wurde nie gemeldet.', [Telling::Negation]];
        yield 'Greek' => ['Το πλοίο έφυγε.', 'Το πλοίο δεν έφυγε.', [Telling::Negation]];
        yield 'Japanese' => ['船は出ます。', '船は出ません。', [Telling::Negation]];
        yield 'Japanese date' => ['11月8日に出た。', '11月9日に出た。', [Telling::Number, Telling::Date]];
        yield 'none of these' => ['The door was heavy.', 'The door was light.', []];
    }

    public function testWhatChangesAtEveryCaptureIsNoiseForThatPage(): void
    {
        $page = static fn (int $n, string $end): string =>
            "<div id=now><p>Mood of the day: {$n} of 9, wind {$n} knots over Low Quay</div><p>{$end}";
        $habits = new Habits();
        for ($n = 1; $n < 7; ++$n) {
            $habits->learn(PageComparison::of(self::read($page($n, 'It stays.')), self::read($page($n + 1, 'It stays.')))->changes);
        }
        $report = self::report($page(7, 'It stays.'), $page(8, 'It went.'), new NoiseRules(), $habits);
        self::assertSame(
            ['noise history', 'substance words'],
            array_map(static fn (WeighedChange $w): string => $w->weight->value.' '.$w->reason, $report->changes),
        );
        self::assertGreaterThan(0.0, $report->changedShare());
        // What is learned can be put away and gone on with.
        $known = $habits->all();
        self::assertTrue(Habits::of($known['steps'], $known['changed'])->covers($report->changes[0]->change));
        self::assertFalse(Habits::of(3, $known['changed'])->covers($report->changes[0]->change));
    }

    public function testRulesOfPeoplePassOverAndAreHandedOn(): void
    {
        $old = '<main><p>Ship 7 of the day.<p id=w>Wind 3.</p><a href="/a?sid=1">log</a></main><aside class="box side"><p>Left <a'
            .' href=/x>out</a></p><img src=a.png></aside>';
        $new = '<main><p>Ship 8 of the day.<p id=w>Wind 9.</p><a href="/a?sid=2">log</a></main><aside class="box side"><p>Right <a'
            .' href=/y>in</a></p><img src=b.png></aside>';
        self::assertFalse(self::report($old, $new)->isIdentical());
        $rules = NoiseRules::fromJson((new NoiseRules([
            NoiseRule::region('aside.side', '', 'why'),
            NoiseRule::pattern('Ship \d+'),
            NoiseRule::pattern('[?&]sid=\d+'),
            NoiseRule::region('', 'Wind 5.'),
        ]))
            ->toJson());
        $report = self::report($old, $new, $rules);
        self::assertTrue($report->isIdentical(), $report->text());
        self::assertCount(3, $report->passedOver);
        self::assertGreaterThan(2, $report->alsoPassedOver);
        self::assertStringContainsString('Passed over by rules', $report->text());
        // A pattern that matches a part leaves the rest to count.
        self::assertFalse(self::report('<p>Ship 1 left.', '<p>Ship 2 sank.', $rules)->isIdentical());
        self::assertFalse(self::report(
            '<p>One here it is now.<p>Ship 2 is here.<p>Three there too now.',
            '<p>Ship 2 is here.<p>One here it is now.<p>Three there too now.',
            $rules,
        )->isIdentical());
    }

    #[DataProvider('selectors')]
    public function testSelectors(string $selector, bool $matches): void
    {
        self::assertSame($matches, Selector::parse($selector)->matches('html body:1 div#wrap.page.wide:2 ul.list:1 li:3 p:1'));
    }

    /**
     * @return iterable<string, array{string, bool}>
     */
    public static function selectors(): iterable
    {
        foreach ([
            'li' => true, 'LI' => true, 'div' => true, '#wrap' => true, 'div.page.wide' => true, '.wide .list' => true,
            '.wide > .list' => true, 'div > li' => false, 'body > div > ul > li > p' => true, 'body > ul' => false,
            'li:nth-of-type(3)' => true, 'li:nth-of-type(2)' => false, '*' => true, 'ol, ul' => true, 'table' => false,
            '.page#wrap' => true, 'div.other' => false, 'div div' => false,
        ] as $selector => $matches) {
            yield $selector => [$selector, $matches];
        }
    }

    #[DataProvider('badRules')]
    public function testARuleThatCannotBeSaysWhy(string $json, string $why): void
    {
        $this->expectException(InvalidRule::class);
        $this->expectExceptionMessage($why);
        NoiseRules::fromJson($json);
    }

    /**
     * @return iterable<string, array{string, string}>
     */
    public static function badRules(): iterable
    {
        yield 'no JSON' => ['{', 'no JSON'];
        yield 'no list' => ['{"rules": {"a": 1}}', 'a list named "rules"'];
        yield 'no kind' => ['{"rules": [{"kind": "region", "selector": "p"}, {"kind": "x"}]}', 'Rule 2: its "kind"'];
        yield 'no selector' => ['{"rules": [{"kind": "region"}]}', 'Rule 1: A region needs'];
        yield 'selector' => ['{"rules": [{"kind": "region", "selector": "a[href]"}]}', '"a[href]" cannot be used'];
        yield 'pattern' => ['{"rules": [{"kind": "pattern", "pattern": "(x"}]}', 'not a regular expression'];
        yield 'recursion' => ['{"rules": [{"kind": "pattern", "pattern": "(a(?R)?b)"}]}', 'recursion'];
        yield 'verbs' => ['{"rules": [{"kind": "pattern", "pattern": "(*LIMIT_MATCH=1)x"}]}', 'Verbs'];
    }

    public function testNoPatternOutrunsItsLimits(): void
    {
        $rules = new NoiseRules([NoiseRule::pattern('(a+)+$'), NoiseRule::pattern('(?:x+x+)+y'), NoiseRule::pattern('(.*)*(.*)*(.*)*z')]);
        $start = ProcessorTime::seconds();
        $report = self::report('<p>'.str_repeat('a', 3_000).'!', '<p>'.str_repeat('x', 3_000).'!', $rules);
        self::assertFalse($report->isIdentical());
        self::assertLessThan(5.0, ProcessorTime::seconds() - $start);
    }

    public function testAPatternThatTakesTooLongIsSetAsideAndSaid(): void
    {
        $now = 0.0;
        $rules = static function (float $each) use (&$now): NoiseRules {
            // Each match lets the clock go on.
            return new NoiseRules([NoiseRule::pattern('Ship \d+')], new Patience(static function () use (&$now, $each): float {
                return $now += $each / 2;
            }));
        };
        $report = static fn (NoiseRules $rules): ComparisonReport => self::report('<p>Ship 4 is in.', '<p>Ship 5 is in.', $rules);
        $quick = $report($rules(0.001));
        self::assertSame([[], 1, []], [$quick->changes, \count($quick->passedOver), $quick->rulesSetAside()]);
        $slow = $report($rules(9.0));
        self::assertSame([1, [], ['Ship \d+']], [\count($slow->changes), $slow->passedOver, $slow->rulesSetAside()]);
    }

    public function testWhatWasSetAsideStaysSoAndTimeBeginsAnew(): void
    {
        $now = 0.0;
        $patience = new Patience(static function () use (&$now): float {
            return $now;
        });
        $takes = static function (Patience $patience, string $pattern, float $seconds) use (&$now): ?bool {
            return $patience->with($pattern, static function () use (&$now, $seconds): bool {
                $now += $seconds;

                return true;
            });
        };
        self::assertTrue($takes($patience, 'a', 0.6));
        self::assertNull($takes($patience, 'a', 0.6), 'more than a second for one pattern');
        self::assertNull($takes($patience, 'a', 0.0));
        self::assertTrue($takes($patience, 'b', 0.7));
        self::assertNull($takes($patience, 'c', 0.9), 'more than two seconds for all');
        $again = $patience->again();
        self::assertNull($takes($again, 'a', 0.0));
        self::assertTrue($takes($again, 'd', 0.9));
        self::assertSame(['a', 'c'], $again->setAside());
    }

    public function testASelectorOfManyStepsIsHeldAgainstADeepPathStepByStep(): void
    {
        $divs = static fn (int $n): string => implode(' ', array_fill(0, $n, 'div'));
        self::assertFalse(Selector::parse('nav '.$divs(240).' p')->matches($divs(500).' p'));
        self::assertTrue(Selector::parse('nav '.$divs(240).' p')->matches('nav '.$divs(500).' p'));
    }

    private static function report(string $old, string $new, ?NoiseRules $rules = null, Habits $habits = new Habits()): ComparisonReport
    {
        $before = self::read($old);
        $after = self::read($new);

        return new ComparisonReport(
            PageComparison::of($before, $after),
            $before,
            $after,
            new Weighing($rules ?? new NoiseRules(), $habits),
            null !== $rules && [] !== $rules->rules,
        );
    }

    private static function read(string $html): Document
    {
        return Document::fromHtml('<!doctype html>'.$html, 'text/html; charset=utf-8');
    }
}
