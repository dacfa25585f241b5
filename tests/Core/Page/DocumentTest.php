<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Page;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Page\Document;
use Ypomna\Core\Page\Passage;

final class DocumentTest extends TestCase
{
    /**
     * @param list<string> $passages `kind: text`
     */
    #[DataProvider('pages')]
    public function testTextIsReadInPassagesAsAReaderSeesIt(string $html, array $passages): void
    {
        $document = Document::fromHtml(
            '<!doctype html><html><head><title>Title</title><style>x</style></head><body>'.$html.'</body></html>',
            'text/html; charset=utf-8',
        );
        self::assertSame($passages, array_map(static fn (Passage $p): string => $p->kind->value.': '.$p->text, $document->passages));
    }

    /**
     * @return iterable<string, array{string, list<string>}>
     */
    public static function pages(): iterable
    {
        yield 'sentences' => [
            '<p>Nobody was hurt. The door was <b>in</b>spected.</p>', ['sentence: Nobody was hurt.', 'sentence: The door was inspected.'],
        ];
        yield 'headings and items' => [
            '<h2>Done</h2><ul><li>One<li>Two. Still two.</ul>', ['heading: Done', 'item: One', 'item: Two. Still two.'],
        ];
        yield 'cells' => ['<table><caption>Times</caption><tr><th>From<td>06:10</table>', ['caption: Times', 'cell: From', 'cell: 06:10']];
        yield 'lines' => ["<pre>one\ntwo</pre>", ['line: one', 'line: two']];
        yield 'terms' => ['<dl><dt>Length<dd>38 m. Beam 9 m.</dl>', ['term: Length', 'sentence: 38 m.', 'sentence: Beam 9 m.']];
        yield 'hidden' => [
            '<p hidden>a<p style="color:red; display : none">b<p style="visibility:hidden">c<p'
                .' aria-hidden="true">seen<noscript>d</noscript><template>e</template><script>f</script><!--g--><details><summary>'
                    .'S</summary>in',
            ['sentence: seen', 'sentence: S', 'sentence: in'],
        ];
        yield 'invisible characters' => ["<p>Pe\u{00AD}trel\u{200B} Dawn\u{FEFF}&nbsp;&nbsp;sails", ['sentence: Petrel Dawn sails']];
        yield 'one form of accents' => ["<p>cafe\u{0301}", ["sentence: caf\u{00E9}"]];
        yield 'alt is no text' => ['<p>a<img alt="not me" src="x">b', ['sentence: ab']];
        yield 'breaks' => ['<p>one<br>two', ['sentence: one', 'sentence: two']];
        yield 'no markup at all' => ['just text', ['sentence: just text']];
        yield 'broken markup' => ['<p>one<div>two</div>three</b></i>', ['sentence: one', 'sentence: two', 'sentence: three']];
        yield 'Greek' => ['<p>Πότε φεύγει; Αύριο το πρωί.', ['sentence: Πότε φεύγει;', 'sentence: Αύριο το πρωί.']];
        yield 'Japanese' => ['<p>船は出ません。明日も同じです。', ['sentence: 船は出ません。', 'sentence: 明日も同じです。']];
    }

    public function testLinksAndPicturesAreResolved(): void
    {
        $document = Document::fromHtml(
            '<base href="/safety/"><a href="door#x">The <b>door</b></a><a href="javascript:x">no</a><a name="y">no</a><img src="p.png"'
                .' alt="ship"><a href="https://board.test/"><img src="//cdn.test/q.png"></a>',
            null,
            'http://lantern.test/a/b',
        );
        self::assertSame(
            [['The door', 'http://lantern.test/safety/door#x'], ['', 'https://board.test/']],
            array_map(static fn (\Ypomna\Core\Page\Link $l): array => [$l->text, $l->href], $document->links),
        );
        self::assertSame(
            [['http://lantern.test/safety/p.png', 'ship'], ['http://cdn.test/q.png', '']],
            array_map(static fn (\Ypomna\Core\Page\Picture $p): array => [$p->src, $p->alt], $document->pictures),
        );
    }

    public function testWhatThePageSaysOfItself(): void
    {
        $document = Document::fromHtml('<html lang="el"><head><title> Ένα
            πλοίο </title><meta name="Description" content=" Για  το πλοίο "></head><body></body></html>', 'text/html; charset=utf-8');
        self::assertSame(['Ένα πλοίο', 'Για το πλοίο', 'el'], [$document->title, $document->description, $document->language]);
    }

    public function testEveryEncodingGivesTheSameText(): void
    {
        $text = 'Πορθμεία';
        $utf8 = "<title>{$text}</title><p>{$text}";
        foreach ([
            [$utf8, 'text/html; charset=utf-8'], ["\xEF\xBB\xBF".$utf8, null],
            [(string) iconv('UTF-8', 'windows-1253', $utf8), 'text/html; charset=Windows-1253'],
            [(string) iconv('UTF-8', 'ISO-8859-7', '<meta charset="iso-8859-7">'.$utf8), null],
            ["\xFF\xFE".iconv('UTF-8', 'UTF-16LE', $utf8), null], [$utf8, null],
        ] as $n => [$bytes, $type]) {
            self::assertSame($text, Document::fromHtml($bytes, $type)->title, "case {$n}");
        }
        self::assertSame(
            '快速船', Document::fromHtml((string) iconv('UTF-8', 'SHIFT_JIS', '<title>快速船</title>'), 'text/html; charset=Shift_JIS')->title,
        );
    }

    public function testNothingIsTooDeepOrTooOdd(): void
    {
        $deep = str_repeat('<div>', 5_000).'deep'.str_repeat('</div>', 5_000);
        self::assertStringContainsString('deep', Document::fromHtml($deep)->text());
        foreach ([
            '', '   ', "\0\0\0", '<', '<!', '<!--', '</', '<a', '<a href=', "<p \xff\xfe>\xf0\x28", '&#x110000;&#0;&bogus;',
        ] as $odd) {
            self::assertLessThan(60, \strlen(Document::fromHtml($odd)->text()));
        }
        mt_srand(7);
        $seed = '<html><head><title>T</title></head><body><table><tr><td>a<td><a href="b">c</a></table><p'
            .' style="display:none">d<ul><li>e</ul><svg><p>f</svg></body></html>';
        for ($n = 0; $n < 200; ++$n) {
            $at = mt_rand(0, \strlen($seed));
            $mutant = substr($seed, 0, $at).\chr(mt_rand(0, 255)).substr($seed, $at + mt_rand(0, 9), mt_rand(0, 200));
            self::assertTrue(mb_check_encoding(Document::fromHtml($mutant)->text(), 'UTF-8'));
        }
    }
}
