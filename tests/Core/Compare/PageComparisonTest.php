<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Compare;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Compare\Alignment;
use Ypomna\Core\Compare\ChangeKind;
use Ypomna\Core\Compare\PageComparison;
use Ypomna\Core\Compare\PassageChange;
use Ypomna\Core\Compare\WordDiff;
use Ypomna\Core\Compare\WordSpan;
use Ypomna\Core\Page\Document;

final class PageComparisonTest extends TestCase
{
    /**
     * @param list<string> $changes
     */
    #[DataProvider('pairs')]
    public function testFindsWhatChanged(string $old, string $new, array $changes): void
    {
        self::assertSame($changes, self::changes(self::compare($old, $new)));
    }

    /**
     * @return iterable<string, array{string, string, list<string>}>
     */
    public static function pairs(): iterable
    {
        $rest = '<p>Nobody was hurt.<p>The door was inspected on 9 November by safety manager Edda Marlow.<p>Tickets are refunded at the'
            .' booking office.';
        yield 'nothing' => ['<p>a'.$rest, '<p>a'.$rest, []];
        yield 'a number' => [
            '<p>The crew measured 40 centimetres of water.'.$rest,
            '<p>The crew measured 14 centimetres of water.'.$rest,
            ['changed: The crew measured 40 centimetres of water. → The crew measured 14 centimetres of water.'],
        ];
        yield 'a negation' => [
            '<p>The leak had been reported before.'.$rest,
            '<p>The leak had not been reported before.'.$rest,
            ['changed: The leak had been reported before. → The leak had not been reported before.'],
        ];
        yield 'a sentence gone' => ['<p>First. It was in the log. Last.', '<p>First. Last.', ['removed: It was in the log.']];
        yield 'a sentence come' => ['<p>First. Last.', '<p>First. It was in the log. Last.', ['added: It was in the log.']];
        yield 'a paragraph moved' => [
            '<p>The first of them all stands here.<p>The second of them.<p>The third of them.',
            '<p>The second of them.<p>The third of them.<p>The first of them all stands here.',
            ['moved: The first of them all stands here.'],
        ];
        yield 'moved and reworded' => [
            '<p>The seal is a Corvane 400, fitted in 2021 by the yard.<p>The second of them.<p>The third of them.',
            '<p>The second of them.<p>The third of them.<p>The seal is a Corvane 400, fitted in 2020 by the yard.',
            ['changed, moved: The seal is a Corvane 400, fitted in 2021 by the yard. → The seal is a Corvane 400, fitted in 2020 by the'
                .' yard.'],
        ];
        yield 'a cell' => ['<table><tr><td>06:10<td>07:00</table>', '<table><tr><td>06:10<td>07:15</table>', ['changed: 07:00 → 07:15']];
        yield 'markup only' => ['<div><p>One <b>two</b> three.</div>', '<section><p class=x>One two <i>three</i>.</section>', []];
        yield 'Japanese' => ['<p>船は九時に出ます。', '<p>船は十時に出ます。', ['changed: 船は九時に出ます。 → 船は十時に出ます。']];
        yield 'everything' => [
            '<p>Alpha beta gamma delta.',
            '<p>Other words stand here now.',
            ['removed: Alpha beta gamma delta.', 'added: Other words stand here now.'],
        ];
    }

    public function testTheChangedWordsAreMarked(): void
    {
        $spans = WordDiff::between('inspected by safety manager Edda Marlow.', 'inspected by our safety department.');
        $written = implode('', array_map(static fn (WordSpan $s): string => match ($s->kind) {
            ChangeKind::Removed => '[-'.$s->text.'-]',
            ChangeKind::Added => '[+'.$s->text.'+]',
            default => $s->text,
        }, $spans));
        self::assertSame('inspected by [-safety manager Edda Marlow-][+our safety department+].', $written);
        foreach ([['a b c', 'a c'], ['', 'x y'], ['x', ''], ['same', 'same'], ['船は九時', '船は十時に']] as [$old, $new]) {
            $spans = WordDiff::between($old, $new);
            $side = static fn (ChangeKind $not): string => implode(
                '', array_map(static fn (WordSpan $s): string => $s->kind === $not ? '' : $s->text, $spans),
            );
            self::assertSame([$old, $new], [$side(ChangeKind::Added), $side(ChangeKind::Removed)]);
        }
    }

    public function testLinksPicturesAndTitle(): void
    {
        $comparison = self::compare(
            '<title>Old</title><a href="/a">same</a><a href="/b">log</a><a href="/gone">gone</a><img src="/p.png"><img src="/q.png">',
            '<title>New</title><a href="/a">other words</a><a href="/c">log</a><a href="/come">come</a><img src="/p.png"><img'
                .' src="/r.png">',
        );
        self::assertSame(['http://x.test/come'], array_column($comparison->links->added, 'href'));
        self::assertSame(['http://x.test/gone'], array_column($comparison->links->removed, 'href'));
        self::assertSame(
            ['http://x.test/b', 'http://x.test/c'],
            [$comparison->links->retargeted[0][0]->href, $comparison->links->retargeted[0][1]->href],
        );
        self::assertSame(
            ['http://x.test/q.png', 'http://x.test/r.png'],
            [$comparison->pictures->changed[0][0]->src, $comparison->pictures->changed[0][1]->src],
        );
        self::assertSame([['name' => 'title', 'old' => 'Old', 'new' => 'New']], $comparison->meta);
    }

    public function testLikenessFallsWithWhatChanged(): void
    {
        $text = implode('', array_map(static fn (int $n): string => "<p>Sentence number {$n} stands here.", range(1, 20)));
        $one = self::compare($text, str_replace('number 7 stands', 'number 7 stood', $text))->similarity;
        $more = self::compare($text, (string) preg_replace('/<p>Sentence number 1\d[^<]*/', '', $text))->similarity;
        self::assertSame(1.0, self::compare($text, $text)->similarity);
        self::assertSame(1.0, self::compare('', '')->similarity);
        self::assertLessThan(1.0, $one);
        self::assertLessThan($one, $more);
        self::assertGreaterThan(0.0, $more);
    }

    public function testAnAlignmentIsRisingEqualAndLongest(): void
    {
        mt_srand(3);
        for ($round = 0; $round < 60; ++$round) {
            $old = array_map(static fn (): string => \chr(mt_rand(97, 102)), range(1, mt_rand(1, 30)));
            $new = array_map(static fn (): string => \chr(mt_rand(97, 102)), range(1, mt_rand(1, 30)));
            $pairs = Alignment::of($old, $new);
            $last = [-1, -1];
            foreach ($pairs as [$i, $j]) {
                self::assertTrue($i > $last[0] && $j > $last[1] && $old[$i] === $new[$j]);
                $last = [$i, $j];
            }
            self::assertCount(self::longest($old, $new), $pairs);
        }
    }

    public function testALongAlignmentKeepsEveryUniqueLine(): void
    {
        $old = array_map(static fn (int $n): string => "line {$n}", range(1, 3_000));
        $new = $old;
        array_splice($new, 1_500, 3, ['other']);
        array_splice($new, 20, 0, ['more', 'and more']);
        self::assertCount(2_997, Alignment::of($old, $new));
    }

    private static function compare(string $old, string $new): PageComparison
    {
        return PageComparison::of(
            Document::fromHtml($old, 'text/html; charset=utf-8', 'http://x.test/'),
            Document::fromHtml($new, 'text/html; charset=utf-8', 'http://x.test/'),
        );
    }

    /**
     * @return list<string>
     */
    private static function changes(PageComparison $comparison): array
    {
        return array_map(static fn (PassageChange $c): string => $c->kind->value.($c->moved ? ', moved' : '').': '.match ($c->kind) {
            ChangeKind::Changed => $c->old?->text.' → '.$c->new?->text,
            ChangeKind::Removed => $c->old?->text,
            default => $c->new?->text,
        }, $comparison->changes);
    }

    /**
     * @param list<string> $old
     * @param list<string> $new
     */
    private static function longest(array $old, array $new): int
    {
        $row = array_fill(0, \count($new) + 1, 0);
        foreach ($old as $a) {
            $before = $row;
            foreach ($new as $j => $b) {
                $row[$j + 1] = $a === $b ? $before[$j] + 1 : max($before[$j + 1], $row[$j]);
            }
        }

        return $row[\count($new)];
    }
}
