<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Page;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Page\MainText;

/** What a search found is a list, however much is said of each; an article about searches is one. */
final class SearchResultsTest extends TestCase
{
    private const FOUND = [
        [
            'Lantern ferry inspected after storm',
            'The stern door of the ferry had been reported twice before the storm, the inspectors wrote, and nobody had replaced the'
                .' seal that the maker asked for.',
        ],
        [
            'Harbour board minutes, March',
            '… the board discussed the ferry and its door. Members asked for the report of the inspectors to be read in full at the'
                .' next meeting …',
        ],
        [
            'Timetable of the Aliki line',
            'From May the ferry leaves at six in the morning and at four in the afternoon. On Sundays there is one crossing only.',
        ],
        [
            'Letters to the editor',
            '“The ferry was never on time,” writes a reader from the upper town, who has taken it every day for eleven years.',
        ],
        [
            'Who owns the ferry company?',
            'A look at the register shows that the company changed hands twice in one year; the second owner is a foundation abroad.',
        ],
        [
            'Storm of November: what we know',
            'Eleven people were hurt when the ferry turned back in the storm of November. The captain says the door held.',
        ],
    ];
    private const TEXT = 'The stern door of the ferry had been reported twice before the storm, the inspectors wrote, and nobody had'
        .' replaced the seal. The maker asked for a new one in spring, and the company answered that it would see to it in autumn.';

    #[DataProvider('results')]
    public function testResultsAreNoArticle(string $head, string $each, string $foot = ''): void
    {
        $all = implode("\n", array_map(static fn (array $found): string => \sprintf($each, ...$found), self::FOUND));
        self::assertFalse(MainText::fromHtml('<!doctype html><meta charset="utf-8">'.$head.$all.$foot)->isArticle);
    }

    /** @return iterable<string, array{0: string, 1: string, 2?: string}> */
    public static function results(): iterable
    {
        yield 'a list with addresses' => [
            '<title>ferry - Search results</title><h1>Search results for "ferry"</h1><form><input name=q value=ferry></form><p>About'
                .' 1,240 results (0.31 seconds)</p><ol>',
            '<li><h3><a href="/x">%s</a></h3><cite>lantern.test/news</cite><p>%s</p></li>', '</ol><p>1 2 3 Next</p>',
        ];
        yield 'boxes' => [
            '<title>Search: ferry | Lantern</title><main><h1>Results: ferry</h1>',
            '<div class=result><a class=t href="/x">%s</a><div class=url>https://lantern.test/news/item</div><div'
                .' class=snippet><b>ferry</b> %s</div></div>',
            '</main>',
        ];
        yield 'addresses first' => [
            '<title>ferry</title><div id=res>',
            '<div><div>lantern.test › news</div><a href=/x><h3>%s</h3></a><span>12 Nov 2024 — %s</span></div>', '</div>',
        ];
        yield 'headings that lead nowhere' => [
            '<title>Suche nach „Fähre“</title><h2>Suchergebnisse</h2><p>Ihre Suche ergab 6 Treffer.</p>',
            '<h4>%s</h4><p>%s <a href=/x>mehr</a></p>',
        ];
        yield 'terms' => [
            '<title>Αποτελέσματα αναζήτησης</title><h1>Αποτελέσματα για: πλοίο</h1><dl>', '<dt><a href=/x>%s</a></dt><dd>%s</dd>',
            '</dl>',
        ];
        yield 'an old table' => [
            '<title>Search Results</title><table>',
            '<tr><td>1.</td><td><a href=/x>%s</a><br>%s<br><font color=green>www.lantern.test/ - 12k</font> - <a'
                .' href=/c>Copy</a></td></tr>',
            '</table>',
        ];
        yield 'paragraphs that begin with links' => [
            '<title>Search</title><h1>Search</h1><p>You searched for <b>ferry</b>.</p>', '<p><a href="/x">%s</a> %s</p>',
        ];
        yield 'cards' => ['<title>Search</title>', '<a href=/x class=card><h3>%s</h3><p>%s</p></a>'];
        yield 'sections' => [
            '<title>Search for ferry</title><h1>6 results for ferry</h1>',
            '<section><h2>%s</h2><p>%s</p><a href=/x>Read more</a></section>',
        ];
        yield 'opened by scripts' => [
            '<title>Search results — Lantern archive</title><h1>Search results</h1>',
            '<article><h2>%s</h2><p class=meta>Article · 12 November 2024</p><p>%s</p></article>',
        ];
    }

    #[DataProvider('articles')]
    public function testAnArticleAboutSearchesIsOne(string $title, string $each): void
    {
        $text = '';
        foreach (['The quay', 'The passengers', 'The door', 'The owners'] as $part) {
            $text .= strtr($each, ['PART' => $part, 'TEXT' => self::TEXT]);
        }
        self::assertTrue(
            MainText::fromHtml('<!doctype html><meta charset="utf-8"><title>'.$title.'</title><h1>'.$title.'</h1>'.$text)->isArticle,
        );
    }

    /** @return iterable<string, array{string, string}> */
    public static function articles(): iterable
    {
        yield 'a search that goes on' => ['Search for missing crew goes on', '<h2>PART</h2><p>TEXT</p>'];
        yield 'results of a year' => ['Results for 2024: the ferry company loses again', '<h2>PART</h2><p>TEXT</p>'];
        yield 'about search results' => ['Why search results are evidence', '<p>TEXT</p><p>TEXT</p>'];
        yield 'about them, in sections' => ['Why search results are evidence', '<h2>PART</h2><p>TEXT</p><p>TEXT</p>'];
        yield 'links at the end' => ['What we know of the ferry', '<p>TEXT The report on <a href=/a>PART</a> says more.</p>'];
        yield 'paragraphs that begin with a link, some' => [
            'Words of the harbour', '<p><a href=/a>PART, as it was called</a>: TEXT</p><p>TEXT</p><p>TEXT</p>',
        ];
    }
}
