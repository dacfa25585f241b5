<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Replay;

use Masterminds\HTML5;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Page\Candidates;
use Ypomna\Core\Page\Requisite;
use Ypomna\Core\Page\RequisiteKind;
use Ypomna\Core\Page\Requisites;
use Ypomna\Core\Page\StyleReference;
use Ypomna\Core\Page\StyleReferences;
use Ypomna\Core\Replay\CssRewriter;
use Ypomna\Core\Replay\HtmlRewriter;
use Ypomna\Core\Replay\LinkMap;
use Ypomna\Core\Replay\ReferenceMapper;
use Ypomna\Tests\Support\ProcessorTime;

final class RewriterTest extends TestCase
{
    #[DataProvider('markup')]
    public function testReferencesOfMarkupAreLed(string $html, string $expected): void
    {
        self::assertSame($expected, (new HtmlRewriter(self::mapper()))->rewrite($html));
    }

    /**
     * @return iterable<string, array{string, string}>
     */
    public static function markup(): iterable
    {
        foreach ([
            '<p class="a">text & more</p>', '<a href="/b">', '<img src=a.png>', '<a href=#x>', '<!-- <img src="http://a.test/"> -->',
            '<textarea><img src="http://a.test/"></textarea>', '<a title="http://a.test/">', '3 < 4 and 5 > 4',
        ] as $same) {
            yield 'stays: '.$same => [$same, $same];
        }
        yield 'quoted' => ['<img src="http://a.test/x.png">', '<img src="archive:http://a.test/x.png">'];
        yield 'single quotes and case' => ["<IMG SRC='HTTP://A.test/x.png' alt=y>", '<img src="archive:http://a.test/x.png" alt=y>'];
        yield 'bare' => ['<img src=http://a.test/x.png>', '<img src="archive:http://a.test/x.png">'];
        yield 'without scheme' => ['<script src="//a.test/x.js"></script>', '<script src="archive:http://a.test/x.js"></script>'];
        yield 'entities' => ['<a href="http://a.test/?a=1&amp;b=2">', '<a href="archive:http://a.test/?a=1&amp;b=2">'];
        yield 'line ends inside' => ["<img src=\"ht\ntp://a.test/x\">", '<img src="archive:http://a.test/x">'];
        yield 'coded scheme' => ['<img src="&#104;ttp://a.test/x">', '<img src="archive:http://a.test/x">'];
        yield 'backslashes' => ['<img src="\\\\a.test/x">', '<img src="archive:http://a.test/x">'];
        yield 'candidates' => [
            '<img srcset="http://a.test/1.png 1x, b.png 2x,http://a.test/3.png 3x">',
            '<img srcset="archive:http://a.test/1.png 1x, b.png 2x,archive:http://a.test/3.png 3x">',
        ];
        yield 'style attribute' => [
            '<p style="background:url(http://a.test/x.png)">', '<p style="background:url(&quot;archive:http://a.test/x.png&quot;)">',
        ];
        yield 'style element' => ['<style>@import "http://a.test/a.css";</style>', '<style>@import "archive:http://a.test/a.css";</style>'];
        yield 'frame of a document' => [
            '<iframe srcdoc="&lt;img src=&quot;http://a.test/x&quot;&gt;">',
            '<iframe srcdoc="&lt;img src=&quot;archive:http://a.test/x&quot;&gt;">',
        ];
        yield 'refresh' => [
            '<meta http-equiv="Refresh" content="3; URL=\'http://a.test/x\'">',
            '<meta http-equiv="refresh" content="3; URL=\'archive:http://a.test/x\'">',
        ];
        yield 'own policy' => ['<meta http-equiv="Content-Security-Policy" content="default-src *">a', 'a'];
        yield 'hints' => [
            '<link rel="preconnect" href="http://a.test/"><link rel=dns-prefetch href=//a.test><link rel="stylesheet" href="a.css">',
            '<link rel="stylesheet" href="a.css">',
        ];
        yield 'integrity and ping' => [
            '<script src="a.js" integrity="sha256-x"></script><a ping="http://a.test/" href="b">',
            '<script src="a.js"></script><a href="b">',
        ];
        yield 'windows' => ['<a target="_blank" href="b">', '<a target="_self" href="b">'];
        yield 'base' => ['<base href="http://a.test/b/">', '<base href="archive:http://a.test/b/">'];
        yield 'what cannot be understood leads nowhere' => ['<img src="http://[broken/x">', '<img src="about:blank">'];
        yield 'a tag that never ends is dropped' => ['a<img src="http://a.test/x', 'a'];
        yield 'a quotation mark that never closes takes in the rest' => ['a<a href="http://b.test/ <img src=http://a.test/x><p>b', 'a'];
        yield 'a comment that ends at once' => [
            '<!--><img src="http://a.test/x"><!-- --><!---><img src="http://a.test/x">-->',
            '<!--><img src="archive:http://a.test/x"><!-- --><!---><img src="archive:http://a.test/x">-->',
        ];
        yield 'no CDATA in HTML' => ['<![CDATA[ > <img src="http://a.test/x"> ]]>', '<![CDATA[ > <img src="archive:http://a.test/x"> ]]>'];
        yield 'svg' => [
            '<svg><image xlink:href="http://a.test/x.svg"/></svg>', '<svg><image xlink:href="archive:http://a.test/x.svg" /></svg>',
        ];
    }

    #[DataProvider('styles')]
    public function testReferencesOfStylesAreLed(string $css, string $expected): void
    {
        self::assertSame($expected, (new CssRewriter(self::mapper()))->rewrite($css));
    }

    /**
     * @return iterable<string, array{string, string}>
     */
    public static function styles(): iterable
    {
        foreach ([
            'p{color:red}', 'p{background:url(a.png)}', '/* url(http://a.test/) */', 'p::after{content:"url(http://a.test/)"}',
            'p{background:url()}', 'p{background:url(data:image/png;base64,AA==)}',
        ] as $same) {
            yield 'stays: '.$same => [$same, $same];
        }
        yield 'bare' => ['p{background:url( http://a.test/x.png )}', 'p{background:url("archive:http://a.test/x.png")}'];
        yield 'quoted' => [
            "@font-face{src:URL('//a.test/f.woff2') format('woff2')}",
            "@font-face{src:URL(\"archive:http://a.test/f.woff2\") format('woff2')}",
        ];
        yield 'import' => [
            "@import 'http://a.test/a.css' print;@import url(http://a.test/b.css);",
            '@import "archive:http://a.test/a.css" print;@import url("archive:http://a.test/b.css");',
        ];
        yield 'escapes' => ['p{background:url(\\68ttp://a.test/x)}', 'p{background:url("archive:http://a.test/x")}'];
        yield 'image set' => [
            'p{background:image-set("http://a.test/1.png" 1x, url(http://a.test/2.png) 2x)}',
            'p{background:image-set("archive:http://a.test/1.png" 1x, url("archive:http://a.test/2.png") 2x)}',
        ];
    }

    /** @return iterable<string, array{string, list<string>}> a style sheet, and the addresses it names */
    public static function sheets(): iterable
    {
        yield 'import without a blank' => [
            '@import"a.css";@import\'b.css\';@import/**/"c.css";@IMPORT url(d.css)layer(x);', ['a.css', 'b.css', 'c.css', 'd.css'],
        ];
        yield 'escapes in an address' => ['a{b:url(x\\(1\\).png)}c{d:url(y\\ z.png)}', ['x(1).png', 'y z.png']];
        yield 'what looks like a comment in an address' => [
            'a{b:url(img/*.png)}c{d:url(x/*y*/z.png)}e{f:url(g.png)}', ['img/*.png', 'x/*y*/z.png', 'g.png'],
        ];
        yield 'cut off by the end' => ['a{b:url(x.png', ['x.png']];
        yield 'cut off in a string' => ['a{b:url("x.png', ['x.png']];
        yield 'an import that is cut off' => ['@import "x.css', ['x.css']];
        yield 'an escaped name' => ['a{b:u\\72l(x.png);c:\\55RL("y.png")}@\\69mport "z.css";', ['x.png', 'y.png', 'z.css']];
        yield 'other names' => ['a{b:myurl(x.png);c:-url(y.png);d:url-prefix(z.png);e:\\url x(1)}', []];
        yield 'a string over two lines is none' => ["a{b:url(\"x.png\n)}c{d:url(y.png)}", ['y.png']];
        yield 'a string with an escaped line end' => ["a{b:url(\"x\\\n.png\")}", ['x.png']];
        yield 'a quotation mark spoils an address' => ['a{b:url(x"y.png)}c{d:url(z.png)}', ['z.png']];
        yield 'a name space is no file' => [
            '@namespace svg url(http://www.w3.example/svg);@namespace "http://x.example/";a{b:url(c)}', ['c'],
        ];
        yield 'in strings and comments nothing' => ['a{b:"url(x)";c:\'\\\'url(y)\'}/* url(z) */d{e:url(f)}/* url(g', ['f']];
        yield 'a type in an image set' => [
            'a{b:-webkit-image-set("x.png" type("image/png") 1x, url("y.png") 2x, url(z.png) 3x);c:url(w)}',
            ['x.png', 'y.png', 'z.png', 'w'],
        ];
        yield 'escapes that are no character' => ['a{b:url(\\0 x\\110000 y\\d800 z)}', ["\u{FFFD}x\u{FFFD}y\u{FFFD}z"]];
        yield 'modifiers' => ['a{b:url( "x.png" crossorigin(anonymous) );c:url(  y.png  )}', ['x.png', 'y.png']];
    }

    /** @param list<string> $addresses */
    #[DataProvider('sheets')]
    public function testStyleSheetsAreReadTokenByToken(string $css, array $addresses): void
    {
        $found = array_map(static fn (StyleReference $one): string => $one->value, iterator_to_array(StyleReferences::of($css), false));
        self::assertSame($addresses, $found);
        $wanted = array_merge(...array_map(static fn (Requisite $one): array => $one->any, Requisites::inStyle($css)), ...[[]]);
        self::assertSame($addresses, $wanted);
        // Led to the archive, they name the archive's addresses and nothing else has changed for a browser.
        $led = (new CssRewriter(self::mapper()))->rewrite($css);
        $again = array_map(static fn (StyleReference $one): string => $one->value, iterator_to_array(StyleReferences::of($led), false));
        self::assertSame(array_map(self::mapper()->map(...), $addresses), $again);
    }

    /** @return iterable<string, array{string, list<string>}> */
    public static function candidates(): iterable
    {
        yield 'densities' => ['a.png, b.png 2x', ['a.png', 'b.png']];
        yield 'parentheses in a descriptor' => ['a.png (1x, c.png 2x) 1x, b.png 2x', ['a.png', 'b.png']];
        yield 'parentheses that stay open' => ['a.png (1x, b.png 2x', ['a.png']];
        yield 'commas in an address' => ['a,b.png 1x,data:image/png;base64,AA== 2x', ['a,b.png', 'data:image/png;base64,AA==']];
        yield 'commas behind an address' => ['a.png,, b.png,', ['a.png', 'b.png']];
        yield 'no blank' => ['a.png 1x,b.png 2x', ['a.png', 'b.png']];
        yield 'commas before' => [' ,, a.png', ['a.png']];
        yield 'nothing' => [' , ', []];
    }

    /** @param list<string> $addresses */
    #[DataProvider('candidates')]
    public function testCandidatesOfAPicture(string $srcset, array $addresses): void
    {
        self::assertSame($addresses, iterator_to_array(Candidates::of($srcset), false));
        self::assertSame([] === $addresses ? [] : [$addresses], Requisites::of('<img src="" srcset="'.$srcset.'">')[1]);
    }

    public function testWhatIsWrittenIntoAFrameAsksForItsParts(): void
    {
        $inner = '<link rel=stylesheet href=f.css><img src=f.png><iframe srcdoc="&lt;img src=g.png&gt;" src=never.html></iframe>';
        self::assertSame(
            [['f.css'], ['f.png'], ['g.png'], ['h.png']],
            Requisites::of('<iframe srcdoc="'.htmlspecialchars($inner).'"></iframe><img src=h.png>')[1],
        );
        $deep = 'x.png';
        for ($n = 0; $n < 20; ++$n) {
            $deep = '<iframe srcdoc="'.htmlspecialchars($deep).'"></iframe>';
        }
        self::assertSame([], Requisites::of($deep)[1]);
        self::assertSame([['p.svg#g']], Requisites::of('<svg><path fill="url(p.svg#g)" stroke="url(#own)"/></svg>')[1]);
    }

    public function testSourcesOfAFontAreOneWish(): void
    {
        $found = Requisites::inStyle(
            '@font-face/**/{font-family:"}";src:url(a.woff2)'
                .' format("woff2"),url(a.woff)}@font-face{src:url(b.ttf)}a{b:url(c.png)}@import "d.css";',
        );
        self::assertSame(
            [
                [['a.woff2', 'a.woff'], RequisiteKind::Font],
                [['b.ttf'], RequisiteKind::Font],
                [['c.png'], RequisiteKind::Image],
                [['d.css'], RequisiteKind::Style],
            ],
            array_map(static fn (Requisite $one): array => [$one->any, $one->kind], $found),
        );
    }

    public function testHostileStylesAreReadInReasonableTime(): void
    {
        $start = ProcessorTime::seconds();
        foreach ([
            '@font-face ', '@font-face{', 'url(', 'url("', 'image-set(', '@import ', '/*', '"', "\"\n", '\\', 'a\\', '@import/*', "url('\n",
            'u\\72l(', '@font-face{src:url(a);',
        ] as $piece) {
            foreach (StyleReferences::of(str_repeat($piece, 60_000)) as $one) {
                self::assertGreaterThanOrEqual(0, $one->offset);
            }
            Requisites::inStyle(str_repeat($piece, 60_000));
        }
        self::assertLessThan(20.0, ProcessorTime::seconds() - $start);
    }

    public function testOurScriptStandsFirstInTheHeadOrWhereThereIsNone(): void
    {
        $with = static fn (string $html): string => (new HtmlRewriter(self::mapper(), '<script>ours</script>'))->rewrite($html);
        self::assertSame('<!doctype html><html><head><script>ours</script><title>x', $with('<!doctype html><html><head><title>x'));
        self::assertSame('<!doctype html><script>ours</script><script>theirs</script>', $with('<!doctype html><script>theirs</script>'));
        self::assertSame('<script>ours</script>text', $with('text'));
        self::assertSame('<script>ours</script><p>a', $with('<p>a'));
    }

    public function testWithoutScriptsNoneIsLeft(): void
    {
        $rewriter = new HtmlRewriter(self::mapper(), '', false);
        self::assertSame(
            '<p>a</p><p>b</p>',
            $rewriter->rewrite('<p onclick="x()">a</p><script>evil()</script><noscript>no</noscript><p ONLOAD=\'y\'>b</p>'),
        );
    }

    public function testMutatedMarkupIsRewrittenInReasonableTime(): void
    {
        mt_srand(9);
        $seed = '<html><head><style>a{b:url(http://a.test/x)}</style></head><body><img src="http://a.test/x" srcset="http://a.test/1'
            .' 1x"><!-- c --><script>if (a < b) x="</p>"</script><a href=\'http://b.test/\'>b</a></body></html>';
        $start = ProcessorTime::seconds();
        foreach ([
            str_repeat('<', 50_000), str_repeat('<a ', 20_000), '<a '.str_repeat('x=', 50_000), str_repeat('<!--', 20_000),
            '<style>'.str_repeat('url(', 20_000), '<img srcset="'.str_repeat(',', 50_000).'">', str_repeat('<a href="', 9_000),
        ] as $long) {
            (new HtmlRewriter(self::mapper()))->rewrite($long);
        }
        for ($n = 0; $n < 400; ++$n) {
            $at = mt_rand(0, \strlen($seed));
            $mutant = substr($seed, 0, $at).['<', '>', '"', "'", '<!--', '=', "\0", 'http://'][mt_rand(0, 7)]
                .substr($seed, $at + mt_rand(0, 5));
            $out = (new HtmlRewriter(self::mapper()))->rewrite($mutant);
            // Whatever a parser then finds in the document leads to the archive.
            foreach ((new HTML5(['disable_html_ns' => true]))->loadHTML($out)->getElementsByTagName('*') as $element) {
                foreach (['src', 'srcset', 'href'] as $attribute) {
                    self::assertSame(0, preg_match('~^\s*(?:http:|[\\\\/]{2})~i', $element->getAttribute($attribute)), $mutant);
                }
            }
        }
        self::assertLessThan(60.0, ProcessorTime::seconds() - $start);
    }

    private static function mapper(): ReferenceMapper
    {
        $archive = new class implements LinkMap {
            public function map(Url $url): string
            {
                return 'archive:'.$url;
            }
        };

        return new ReferenceMapper($archive, Url::parse('http://lantern.test/a/'));
    }
}
