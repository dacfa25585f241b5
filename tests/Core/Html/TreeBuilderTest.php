<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Html;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Html\CharacterReferences;
use Ypomna\Core\Html\Tree;
use Ypomna\Core\Html\TreeBuilder;
use Ypomna\Tests\Support\ProcessorTime;

/** Broken markup; that thousands of such pages become the same tree as in a browser is tested there. */
final class TreeBuilderTest extends TestCase
{
    #[DataProvider('pages')]
    public function testBrokenMarkupIsMendedAsBrowsersDo(string $html, string $body): void
    {
        self::assertSame($body, self::inside(TreeBuilder::tree('<!doctype html>'.$html)));
    }

    /**
     * @return iterable<string, array{string, string}>
     */
    public static function pages(): iterable
    {
        yield 'paragraphs end each other' => ['<p>a<p>b<div>c', '<p>a</p><p>b</p><div>c</div>'];
        yield 'an end without a beginning' => ['a</p>b', 'a<p></p>b'];
        yield 'formatting that crosses' => ['<b>1<i>2</b>3</i>', '<b>1<i>2</i></b><i>3</i>'];
        yield 'formatting that goes on in the next block' => ['<p><b>1<p>2', '<p><b>1</b></p><p><b>2</b></p>'];
        yield 'a block in formatting' => ['<b><p>1</b>2', '<b></b><p><b>1</b>2</p>'];
        yield 'links in links' => ['<a>1<a>2', '<a>1</a><a>2</a>'];
        yield 'text in a table' => ['<table>x<tr><td>y</table>', 'x<table><tbody><tr><td>y</td></tr></tbody></table>'];
        yield 'cells without rows' => ['<table><td>1<th>2</table>', '<table><tbody><tr><td>1</td><th>2</th></tr></tbody></table>'];
        yield 'a cell without a table' => ['<td>x', 'x'];
        yield 'items' => ['<ul><li>1<ul><li>2</ul><li>3</ul>', '<ul><li>1<ul><li>2</li></ul></li><li>3</li></ul>'];
        yield 'terms' => ['<dl><dt>1<dd>2<dt>3', '<dl><dt>1</dt><dd>2</dd><dt>3</dt></dl>'];
        yield 'a heading ended by another' => ['<h1>1</h2>2', '<h1>1</h1>2'];
        yield 'comments of all kinds' => ['a<!-->b<!--->c<!-- d --!>e<!f>g<?h?>i</ >j', 'abcegij'];
        yield 'script in script' => ['y<script><!-- <script> </script> --></script>x', 'y<script><!-- <script> </script> --></script>x'];
        yield 'text only' => ['<title>&amp;<b></title>', ''];
        yield 'plaintext' => ['<plaintext><b>x</plaintext>', '<plaintext><b>x</plaintext></plaintext>'];
        yield 'a drawing' => ['<svg><title>t</title><p>x', '<svg><title>t</title></svg><p>x</p>'];
        yield 'CDATA in a drawing' => ['<svg><text><![CDATA[<b>]]></text></svg><![CDATA[x]]>', '<svg><text><b></text></svg>'];
        yield 'an attribute that holds a tag' => ['<p title="<b>">x', '<p>x</p>'];
        yield 'an attribute that never ends' => ['a<p title="x>b', 'a'];
        yield 'a sign that is none' => ['1 < 2 & 3 <', '1 < 2 & 3 <'];
    }

    #[DataProvider('documents')]
    public function testDocumentsHaveTheirElements(string $html, string $tree): void
    {
        self::assertSame($tree, self::written(TreeBuilder::tree($html), 0));
    }

    /** @return iterable<string, array{string, string}> */
    public static function documents(): iterable
    {
        $head = '<html><head></head>';
        yield 'NUL in text' => ["<p>a\0b</p>\0", $head.'<body><p>ab</p></body></html>'];
        yield 'NUL in a script' => ["<p><script>a\0</script>", $head."<body><p><script>a\u{FFFD}</script></p></body></html>"];
        yield 'NUL in a drawing' => ["<svg>a\0b", $head."<body><svg>a\u{FFFD}b</svg></body></html>"];
        yield 'NUL does not begin formatting anew' => ["<p><b>x</p>\0<p>y", $head.'<body><p><b>x</b></p><p><b>y</b></p></body></html>'];
        yield 'NUL in a table' => ["<table>\0<tr>", $head.'<body><table><tbody><tr></tr></tbody></table></body></html>'];
        yield 'white space in framesets' => [
            "<frameset> a\n<frame> </frameset> b\n</html> ", $head."<frameset> \n<frame></frame> </frameset> \n </html>",
        ];
        yield 'a drawing before a frameset' => ['<svg></svg><frameset><frame>', $head.'<frameset><frame></frame></frameset></html>'];
        yield 'a drawing with text before it' => ['<svg>a</svg><frameset>', $head.'<body><svg>a</svg></body></html>'];
        yield 'it ends in a script' => ['<script>x', '<html><head><script>x</script></head><body></body></html>'];
        yield 'it ends in a title' => ['<title>x', '<html><head><title>x</title></head><body></body></html>'];
        yield 'it ends in a style behind the head' => ['<head></head><style>x', '<html><head><style>x</style></head><body></body></html>'];
        yield 'a vertical tabulator is no white space' => ["\v<p\v a\vb=c>", $head."<body>\v<p\v></p\v></body></html>"];
        yield 'old documents keep tables in paragraphs' => [
            '<!doctype html public "-//W3C//DTD HTML 4.01 Transitional//EN"><p><table>', $head.'<body><p><table></table></p></body></html>',
        ];
        yield 'newer ones do not' => [
            '<!doctype html public "-//W3C//DTD HTML 4.01 Transitional//EN" "http://x.example/"><p><table>',
            $head.'<body><p></p><table></table></body></html>',
        ];
        yield 'a doctype that is none' => ['<!doctype html nonsense><p><table>', $head.'<body><p><table></table></p></body></html>'];
    }

    public function testCharacterReferences(): void
    {
        $cases = [
            '&amp;' => '&', '&amp' => '&', '&copy2024' => '©2024', '&notit;' => '¬it;', '&notin;' => '∉', '&nosuch;' => '&nosuch;',
            '&#65;' => 'A', '&#x41' => 'A', '&#128;' => '€', '&#0;' => "\u{FFFD}", '&#x110000;' => "\u{FFFD}", '&#55296;' => "\u{FFFD}",
            '&#;' => '&#;', '&' => '&', '&NotEqualTilde;' => "\u{2242}\u{338}",
        ];
        foreach ($cases as $written => $read) {
            self::assertSame($read, CharacterReferences::inText($written), $written);
        }
        foreach ([
            '?a=1&copy=2' => '?a=1&copy=2', '?a=1&copy;=2' => '?a=1©=2', '?a&amp;b' => '?a&b', '?x&lt' => '?x<', '?x&ltb' => '?x&ltb',
        ] as $written => $read) {
            self::assertSame($read, CharacterReferences::inValue($written), $written);
        }
    }

    public function testAttributesAreReadOnceAndInLowerCase(): void
    {
        $tree = TreeBuilder::tree('<!doctype html><html LANG=el><p CLASS=a class=b id = "x y" hidden data-1=&amp;>');
        $paragraph = $tree->elements('p')->current();
        self::assertSame(['class' => 'a', 'id' => 'x y', 'hidden' => '', 'data-1' => '&'], $tree->attributes((int) $paragraph));
        self::assertSame('el', $tree->attribute((int) $tree->elements('html')->current(), 'lang'));
    }

    /** Every page has its three elements, whatever is in it, and takes no more time than its size warrants. */
    public function testAnythingBecomesATreeSoon(): void
    {
        mt_srand(11);
        $pieces = [
            '<b>', '<p>', '</p>', '<table>', '<td>', '<a href=x>', '<svg>', '<template>', '</table>', '<i>', '</b>', '<!--', '-->',
            '<script>', '</script>', '<select>', '<option>', 'x', "\0", '&', '<', '>', '"', "\xFF", '<frameset>', '<math>', '<mi>',
            '<plaintext',
        ];
        $start = ProcessorTime::seconds();
        for ($round = 0; $round < 300; ++$round) {
            $html = '';
            for ($i = mt_rand(1, 60); $i > 0; --$i) {
                $html .= str_repeat($pieces[mt_rand(0, \count($pieces) - 1)], mt_rand(1, 30));
            }
            self::assertSame(
                ['html'],
                array_map(
                    static fn (int $node): string => TreeBuilder::tree($html)->name($node),
                    iterator_to_array(TreeBuilder::tree($html)->children(0), false),
                ),
            );
        }
        foreach ([
            '<b>', '<b a=1><p>', '<div>', '<table>x', '<nobr>', '<a>x</a><a>', '<template>', '<p a="', '<b id=1><p></b>', '<table><table>',
        ] as $piece) {
            TreeBuilder::tree(str_repeat($piece, intdiv(300_000, \strlen($piece))));
        }
        // Generous: what is quadratic takes minutes.
        self::assertLessThan(30.0, ProcessorTime::seconds() - $start);
    }

    private static function inside(Tree $tree): string
    {
        return self::written($tree, (int) $tree->elements('body')->current());
    }

    private static function written(Tree $tree, int $node): string
    {
        $out = '';
        foreach ($tree->children($node) as $child) {
            $name = $tree->name($child);
            $out .= $tree->isText($child) ? $tree->text($child) : "<{$name}>".self::written($tree, $child)."</{$name}>";
        }

        return $out;
    }
}
