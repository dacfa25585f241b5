<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Page;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Page\MainText;
use Ypomna\Core\Page\PageDate;
use Ypomna\Tests\Support\Edited\Articles;
use Ypomna\Tests\Support\Edited\Sentences;
use Ypomna\Tests\Support\Frames;
use Ypomna\Tests\Support\Handmade;

/** Articles in many surroundings and six languages, and pages that are none. */
final class MainTextTest extends TestCase
{
    /**
     * @param list<string> $articles
     * @param list<string> $others
     */
    #[DataProvider('sets')]
    public function testTheArticleIsFoundWithoutItsSurroundings(array $articles, array $others, float $alike): void
    {
        $likeness = $wrong = [];
        foreach ([...$articles, ...$others] as $kind) {
            foreach (Sentences::LANGUAGES as $n => $language) {
                $page = Articles::page($kind, $language, 50 + 7 * $n);
                $main = MainText::fromHtml($page->html, 'text/html; charset=utf-8');
                if ($main->isArticle !== $page->isArticle) {
                    $wrong[] = $kind.' '.$language;
                }
                if ($page->isArticle) {
                    $likeness[] = Articles::likeness($page->text, $main->text);
                    self::assertSame(
                        [$page->title, $page->byline, $page->published],
                        [$main->title, $main->byline, $main->published],
                        $kind.' '.$language,
                    );
                }
            }
        }
        self::assertSame([], $wrong);
        self::assertSame($alike, round(array_sum($likeness) / \count($likeness), 4));
    }

    /**
     * @return iterable<string, array{list<string>, list<string>, float}>
     */
    public static function sets(): iterable
    {
        yield 'looked at' => [Articles::TUNED, Articles::NONE_TUNED, 1.0];
        yield 'kept aside' => [Articles::ASIDE, Articles::NONE_ASIDE, 0.9976];
    }

    public function testPagesWrittenByHand(): void
    {
        $likeness = $wrong = [];
        $pages = Handmade::all();
        foreach ($pages as $name => $page) {
            $main = MainText::fromHtml($page->html, 'text/html; charset=utf-8');
            if ($main->isArticle !== $page->isArticle) {
                $wrong[] = $name;
            } elseif ($page->isArticle) {
                $likeness[$name] = Articles::likeness($page->text, $main->text);
                self::assertSame(
                    [$page->byline, $page->published, $page->language], [$main->byline, $main->published, $main->language], $name,
                );
                // Two have no heading that a program could know for one.
                self::assertTrue($page->title === $main->title || \in_array($name, ['breaks', 'divs-only'], true), $name.': '.$main->title);
            }
        }
        self::assertSame([], $wrong);
        // Of the others not a word is missing, and none too many is there.
        self::assertSame(
            ['breaks' => 0.988, 'question' => 0.9915, 'encyclopaedia' => 0.9949],
            array_filter(array_map(static fn (float $one): float => round($one, 4), $likeness), static fn (float $one): bool => $one < 1.0),
        );
    }

    public function testWhatStandsAroundIsLeftOut(): void
    {
        $story = [
            'The keeper of Skerry Light wrote into her book each evening what she had seen, and for nineteen years she had seen the same'
                .' three boats.',
            'On 2 March she wrote of a fourth one, which came without lamps from the north and lay below the cliff until it was dark.',
            'Two days later men of the harbour board asked for the book. She gave them the one of the year before.',
            'The book of that year is in the care of a notary. He lets nobody read it, and tells everybody that it is there.',
        ];
        $bodies = [
            '<article><h1>Skerry Light</h1><p class=by>By Ana Brook</p><p>'.implode('</p><p>', $story).'</p></article>',
            '<h1>Skerry Light</h1>'.implode('<br><br>', $story),
            '<h2>Skerry Light</h2><div><div>'.implode('</div><div>', $story).'</div></div>',
            "<h1>Skerry Light</h1><p>{$story[0]}</p><ul><li>{$story[1]}</li><li>{$story[2]}</li></ul><p>{$story[3]}</p>",
        ];
        foreach (Frames::ALL as $frame) {
            foreach ($bodies as $n => $body) {
                $main = MainText::fromHtml(Frames::around($frame, $body), 'text/html; charset=utf-8');
                self::assertSame(['Skerry Light', true], [$main->title, $main->isArticle], $frame.' '.$n);
                self::assertSame(1.0, Articles::likeness(implode(' ', $story), $main->text), $frame.' '.$n.': '.$main->text);
            }
        }
    }

    public function testParagraphsArePartedAndWordsCounted(): void
    {
        $main = MainText::fromHtml(
            '<!doctype html><h1>Head</h1><p>One sentence that is long enough to be read as text, it goes on. Another'
                .' one.<h2>Sub</h2><p>The second paragraph is here with some more words, and it ends.<table><tr><td>a<td>b</table>',
        );
        self::assertSame(
            "One sentence that is long enough to be read as text, it goes on. Another one.\n\nSub\n\nThe second paragraph is here with"
                ." some more words, and it ends.\n\na b",
            $main->text,
        );
        self::assertSame(31, $main->words);
        self::assertSame('en', $main->language);
        self::assertSame(['', false], [MainText::fromHtml('')->text, MainText::fromHtml('')->isArticle]);
    }

    #[DataProvider('dates')]
    public function testDatesOfManyHands(string $written, ?string $date): void
    {
        self::assertSame($date, PageDate::find($written));
    }

    /**
     * @return iterable<string, array{string, string|null}>
     */
    public static function dates(): iterable
    {
        foreach ([
            '2024-11-03T10:00:00+01:00' => '2024-11-03', '20241103' => '2024-11-03', '3 November 2024' => '2024-11-03',
            'Nov. 3, 2024' => '2024-11-03', 'November 3rd, 2024' => '2024-11-03', '3. März 2025' => '2025-03-03',
            'le 14 février 2023' => '2023-02-14', '5 de mayo de 2022' => '2022-05-05', '12 Νοεμβρίου 2024' => '2024-11-12',
            '12 ноября 2024 г.' => '2024-11-12', '2024年11月8日' => '2024-11-08', '03.11.2024' => '2024-11-03', '11/23/2024' => '2024-11-23',
            '2025.05.04 17:20' => '2025-05-04', '4 مايو 2025' => '2025-05-04', '4 במאי 2025' => '2025-05-04',
            '2025. május 4.' => '2025-05-04', '4 Mayıs 2025 Pazar' => '2025-05-04', '4. toukokuuta 2025' => '2025-05-04',
            '2025.13.40' => null, '31/02/2024' => null, 'In 2024 it rained.' => null, '99 May 2024' => null,
        ] as $written => $date) {
            yield (string) $written => [(string) $written, $date];
        }
    }

    /**
     * @param non-empty-string $first
     * @param non-empty-string $last
     */
    #[DataProvider('misleading')]
    public function testNamesAndBoxesDoNotMislead(string $title, string $body, string $first, string $last): void
    {
        $found = MainText::fromHtml(
            '<!doctype html><html><head><meta charset="utf-8"><title>'.$title.' - Lantern</title></head><body>'.$body.'</body></html>',
        );
        self::assertSame($title, $found->title);
        self::assertStringStartsWith($first, $found->text);
        self::assertStringEndsWith($last, $found->text);
    }

    /** @return iterable<string, array{string, string, non-empty-string, non-empty-string}> title, body, how the text begins and ends */
    public static function misleading(): iterable
    {
        $text = static fn (int $from, int $to): string => implode(
            '',
            array_map(
                static fn (int $n): string => '<p>Report '.$n
                    .' of the harbour board tells what was seen at the stern door, and by whom it was told.</p>',
                range($from, $to),
            ),
        );
        $first = 'Report 1 of the harbour board';
        yield 'all of it is called comments' => [
            'The talk of the harbour',
            '<h1>The talk of the harbour</h1><div id="comments" class="comments">'.$text(1, 9).'</div><div class="footer">Imprint</div>',
            $first,
            'by whom it was told.',
        ];
        yield 'all of it is called a sidebar' => [
            'A page of notes',
            '<div class="sidebar-wrap"><div class="widget"><h1>A page of notes</h1>'.$text(1, 8).'</div></div>',
            $first,
            'by whom it was told.',
        ];
        yield 'comments are still none of it' => [
            'Held in port',
            '<h1>Held in port</h1><div class="article">'.$text(1, 6).'<p>That is all there is to say.</p></div><div class="comments">'
                .$text(20, 30).'</div>',
            $first,
            'That is all there is to say.',
        ];
        $more = '<h3>More on this</h3><ul><li><a href="/1">The ferry that came too late for the tide</a></li><li><a href="/2">Who'
            .' repairs the doors of the Sound</a></li><li><a href="/3">A list of all inspections</a></li></ul>';
        yield 'a headline in large letters beside a box' => [
            'The door that would not close',
            '<table><tr><td><font size="5"><b>The door that would not close</b></font><br>'.$text(1, 6).'</td><td>'.$more
                .'</td></tr></table>',
            $first,
            'by whom it was told.',
        ];
        yield 'the same in Arabic' => [
            'عبارة لا يغلق بابها',
            '<table dir="rtl"><tr><td>'.str_replace('More on this', 'اقرأ أيضا', $more)
                .'</td><td><font size="5">عبارة لا يغلق بابها</font><br>'.$text(1, 6).'</td></tr></table>',
            $first,
            'by whom it was told.',
        ];
    }
}
