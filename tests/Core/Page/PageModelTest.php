<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Page;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Page\Document;
use Ypomna\Core\Page\EmbeddedPart;
use Ypomna\Core\Page\Link;
use Ypomna\Core\Page\Passage;
use Ypomna\Core\Page\Picture;
use Ypomna\Core\Page\Text;

/** What is known of a passage beside its text, and what a page says of itself. */
final class PageModelTest extends TestCase
{
    /**
     * @param list<string> $seen
     * @param list<string> $hidden
     */
    #[DataProvider('hiddenText')]
    public function testHiddenTextIsALayerOfItsOwn(string $html, array $seen, array $hidden): void
    {
        $document = self::read($html);
        self::assertSame($seen, self::texts($document->passages));
        self::assertSame($hidden, self::texts($document->hidden));
    }

    /**
     * @return iterable<string, array{string, list<string>, list<string>}>
     */
    public static function hiddenText(): iterable
    {
        yield 'attribute' => ['<p>a<p hidden>b', ['a'], ['b']];
        yield 'display' => ['<p>a <span style="color:red; DISPLAY : none">b</span> c', ['a c'], ['b']];
        yield 'the last word counts' => ['<p style="display:none;display:block">a', ['a'], []];
        yield 'an important one before it' => ['<p style="display:none!important;display:block">a', [], ['a']];
        yield 'visibility, and what is visible in it' => [
            '<div style="visibility:hidden">a<p style="visibility:visible">b</p></div>', ['b'], ['a'],
        ];
        yield 'nothing in what is away is seen' => ['<div style="display:none"><p style="visibility:visible">b</p></div>', [], ['b']];
        yield 'not hidden' => ['<p aria-hidden=true>a<details><summary>b</summary>c</details>', ['a', 'b', 'c'], []];
        yield 'dialogs' => ['<dialog>a</dialog><dialog open>b</dialog>', ['b'], ['a']];
        yield 'no text at all' => [
            '<script>a</script><style>b</style><template>c</template><noscript>d</noscript><iframe>e</iframe><p>f', ['f'], [],
        ];
        yield 'a declared shadow root' => ['<div><template shadowrootmode=open><p>a</template></div>', ['a'], []];
    }

    public function testACellKnowsItsPlaceWhateverSpansThere(): void
    {
        $document = self::read('<table><tr><th rowspan=2>a<th colspan=2>b<tr><td>c<td>d<tr><td>e<td><table><tr><td>f</table><td>g</table>');
        $places = [];
        foreach ($document->passages as $passage) {
            $places[$passage->text] = null === $passage->cell ? null : [$passage->cell->table, $passage->cell->row, $passage->cell->column];
        }
        self::assertSame(
            ['a' => [0, 0, 0], 'b' => [0, 0, 1], 'c' => [0, 1, 1], 'd' => [0, 1, 2], 'e' => [0, 2, 0], 'f' => [1, 0, 0], 'g' => [0, 2, 2]],
            $places,
        );
    }

    public function testATableThatLaysOutAPageHoldsSentences(): void
    {
        $kinds = static fn (string $html): array =>
            array_values(array_unique(array_map(static fn (Passage $p): string => $p->kind->value, self::read($html)->passages)));
        self::assertSame(['cell'], $kinds('<table><tr><td><p>06:10</p><td><b>07:00</b></table>'));
        self::assertSame(['heading', 'sentence'], $kinds('<table><tr><td><h2>News</h2><p>One here. Two here.</p></table>'));
        self::assertSame(['sentence'], $kinds('<table role=presentation><tr><td>One.<td>Two.</table>'));
        self::assertSame(['item'], $kinds('<ul><li><p>One. Two.</p><li><div><span>Three</span></div></ul>'));
    }

    public function testAPassageKnowsItsHeadingAndTheWayToIt(): void
    {
        $document = self::read('<body><main id=m><h2>Notes</h2><div class="a b"><p>One.<p>Two.</div></main>');
        self::assertSame(['Notes', 'One.', 'Two.'], self::texts($document->passages));
        self::assertSame(['Notes', 'Notes'], [$document->passages[1]->heading, $document->passages[2]->heading]);
        self::assertSame('html body:1 main#m:1 div.a.b:1 p:2', $document->passages[2]->path);
    }

    public function testLinksAndPicturesKnowWhereTheyStand(): void
    {
        $document = self::read(
            '<p>See the <a href="/log">log</a>. And the <a href=/log>minutes</a>.</p><img src=p.png alt=ship><p>End.<img'
                .' src="data:image/gif;base64,R0" data-src=q.png>',
        );
        self::assertSame([['log', 0], ['minutes', 1]], array_map(static fn (Link $l): array => [$l->text, $l->passage], $document->links));
        self::assertSame(
            [['p.png', 2], ['q.png', 2]], array_map(static fn (Picture $p): array => [$p->src, $p->behind], $document->pictures),
        );
    }

    public function testLinesThatWereBrokenByHandAreOneSentence(): void
    {
        self::assertSame(
            ['The ferry had left the harbour on time that morning when the alarm rang.', 'Nobody was hurt.'],
            self::texts(
                self::read('<p>The ferry had left the harbour on time that morning<br>when the alarm rang.<br>Nobody was hurt.')->passages,
            ),
        );
        self::assertSame(['Pier 1', 'Low Quay'], self::texts(self::read('<p>Pier 1<br>Low Quay')->passages));
    }

    public function testWhatAPageSaysOfItself(): void
    {
        $document = self::read(
            '<html lang=el><title>T</title><meta name=Description content=" A  b "><meta property="og:title" content=O><meta name=robots'
                .' content=noindex><link rel=canonical href=/c><link rel="preload stylesheet" href=/s.css><link rel=preload as=font'
                    .' href=/f.woff2><script src=/j.js></script><script type="application/ld+json">{"@type":"Article"}</script><iframe'
                        .' src=/f></iframe><svg><title>no</title></svg>',
        );
        self::assertSame(['T', 'A b', 'el'], [$document->title, $document->description, $document->language]);
        self::assertSame(['description' => 'A b', 'og:title' => 'O', 'robots' => 'noindex', 'canonical' => '/c'], $document->metadata);
        self::assertSame(['{"@type":"Article"}'], $document->structured);
        self::assertSame(
            ['script /j.js', 'frame /f', 'style /s.css', 'font /f.woff2'],
            array_map(static fn (EmbeddedPart $p): string => $p->kind.' '.$p->url, $document->parts),
        );
    }

    public function testWhatTakesNoWidthIsNoDifference(): void
    {
        self::assertSame('naïve text', Text::normalise("  nai\u{308}ve\u{A0}\u{200B}te\u{AD}xt\u{FEFF}\n"));
        self::assertSame(Text::key('a b'), Text::key(Text::normalise("a\u{200D} b\u{FE0F}")));
        // Joiners are seen in scripts that join, and in composed pictures.
        self::assertSame("می\u{200C}روم", Text::normalise("می\u{200C}روم"));
        self::assertNotSame(Text::key('ﬁ'), Text::key('fi'));
    }

    public function testOfAnEndlessPageTheBeginningIsReadAndItSaysSo(): void
    {
        $page = self::read('<p>'.implode('<p>', range(1, Document::MOST_PASSAGES + 50)));
        self::assertTrue($page->isCut);
        self::assertLessThan(Document::MOST_PASSAGES + 10, \count($page->passages));
        self::assertFalse(self::read('<p>a')->isCut);
    }

    public function testATableInAFileAndAPrintedDocument(): void
    {
        $table = Document::fromCsv("\u{FEFF}Pier;Dep\n\"North; old\";06:10\nSouth;\n");
        self::assertSame(['Pier', 'Dep', 'North; old', '06:10', 'South'], self::texts($table->passages));
        self::assertSame([1, 1], [$table->passages[3]->cell?->row, $table->passages[3]->cell?->column]);
        $printed = Document::fromPages(["The inspec-\ntion was made. It failed.\n\nSigned.", 'Next page.']);
        self::assertSame(['The inspection was made.', 'It failed.', 'Signed.', 'Next page.'], self::texts($printed->passages));
        self::assertSame('p. 2', $printed->passages[3]->heading);
    }

    private static function read(string $html): Document
    {
        return Document::fromHtml('<!doctype html>'.$html, 'text/html; charset=utf-8');
    }

    /**
     * @param list<Passage> $passages
     *
     * @return list<string>
     */
    private static function texts(array $passages): array
    {
        return array_map(static fn (Passage $passage): string => $passage->text, $passages);
    }
}
