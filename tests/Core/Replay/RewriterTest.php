<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Replay;

use Masterminds\HTML5;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Replay\CssRewriter;
use Ypomna\Core\Replay\HtmlRewriter;
use Ypomna\Core\Replay\LinkMap;
use Ypomna\Core\Replay\ReferenceMapper;

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
        foreach (['<p class="a">text & more</p>', '<a href="/b">', '<img src=a.png>', '<a href=#x>', '<!-- <img src="http://a.test/"> -->', '<textarea><img src="http://a.test/"></textarea>', '<a title="http://a.test/">', '3 < 4 and 5 > 4'] as $same) {
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
        yield 'candidates' => ['<img srcset="http://a.test/1.png 1x, b.png 2x,http://a.test/3.png 3x">', '<img srcset="archive:http://a.test/1.png 1x, b.png 2x,archive:http://a.test/3.png 3x">'];
        yield 'style attribute' => ['<p style="background:url(http://a.test/x.png)">', '<p style="background:url(&quot;archive:http://a.test/x.png&quot;)">'];
        yield 'style element' => ['<style>@import "http://a.test/a.css";</style>', '<style>@import "archive:http://a.test/a.css";</style>'];
        yield 'frame of a document' => ['<iframe srcdoc="&lt;img src=&quot;http://a.test/x&quot;&gt;">', '<iframe srcdoc="&lt;img src=&quot;archive:http://a.test/x&quot;&gt;">'];
        yield 'refresh' => ['<meta http-equiv="Refresh" content="3; URL=\'http://a.test/x\'">', '<meta http-equiv="refresh" content="3; URL=\'archive:http://a.test/x\'">'];
        yield 'own policy' => ['<meta http-equiv="Content-Security-Policy" content="default-src *">a', 'a'];
        yield 'hints' => ['<link rel="preconnect" href="http://a.test/"><link rel=dns-prefetch href=//a.test><link rel="stylesheet" href="a.css">', '<link rel="stylesheet" href="a.css">'];
        yield 'integrity and ping' => ['<script src="a.js" integrity="sha256-x"></script><a ping="http://a.test/" href="b">', '<script src="a.js"></script><a href="b">'];
        yield 'windows' => ['<a target="_blank" href="b">', '<a target="_self" href="b">'];
        yield 'base' => ['<base href="http://a.test/b/">', '<base href="archive:http://a.test/b/">'];
        yield 'what cannot be understood leads nowhere' => ['<img src="http://[broken/x">', '<img src="about:blank">'];
        yield 'a tag that never ends is dropped' => ['a<img src="http://a.test/x', 'a'];
        yield 'a quotation mark that never closes takes in the rest' => ['a<a href="http://b.test/ <img src=http://a.test/x><p>b', 'a'];
        yield 'a comment that ends at once' => ['<!--><img src="http://a.test/x"><!-- --><!---><img src="http://a.test/x">-->', '<!--><img src="archive:http://a.test/x"><!-- --><!---><img src="archive:http://a.test/x">-->'];
        yield 'no CDATA in HTML' => ['<![CDATA[ > <img src="http://a.test/x"> ]]>', '<![CDATA[ > <img src="archive:http://a.test/x"> ]]>'];
        yield 'svg' => ['<svg><image xlink:href="http://a.test/x.svg"/></svg>', '<svg><image xlink:href="archive:http://a.test/x.svg" /></svg>'];
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
        foreach (['p{color:red}', 'p{background:url(a.png)}', '/* url(http://a.test/) */', 'p::after{content:"url(http://a.test/)"}', 'p{background:url()}', 'p{background:url(data:image/png;base64,AA==)}'] as $same) {
            yield 'stays: '.$same => [$same, $same];
        }
        yield 'bare' => ['p{background:url( http://a.test/x.png )}', 'p{background:url("archive:http://a.test/x.png")}'];
        yield 'quoted' => ["@font-face{src:URL('//a.test/f.woff2') format('woff2')}", "@font-face{src:URL(\"archive:http://a.test/f.woff2\") format('woff2')}"];
        yield 'import' => ["@import 'http://a.test/a.css' print;@import url(http://a.test/b.css);", '@import "archive:http://a.test/a.css" print;@import url("archive:http://a.test/b.css");'];
        yield 'escapes' => ['p{background:url(\\68ttp://a.test/x)}', 'p{background:url("archive:http://a.test/x")}'];
        yield 'image set' => ['p{background:image-set("http://a.test/1.png" 1x, url(http://a.test/2.png) 2x)}', 'p{background:image-set("archive:http://a.test/1.png" 1x, url("archive:http://a.test/2.png") 2x)}'];
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
        self::assertSame('<p>a</p><p>b</p>', $rewriter->rewrite('<p onclick="x()">a</p><script>evil()</script><noscript>no</noscript><p ONLOAD=\'y\'>b</p>'));
    }

    public function testMutatedMarkupIsRewrittenInReasonableTime(): void
    {
        mt_srand(9);
        $seed = '<html><head><style>a{b:url(http://a.test/x)}</style></head><body><img src="http://a.test/x" srcset="http://a.test/1 1x"><!-- c --><script>if (a < b) x="</p>"</script><a href=\'http://b.test/\'>b</a></body></html>';
        $start = microtime(true);
        foreach ([str_repeat('<', 50_000), str_repeat('<a ', 20_000), '<a '.str_repeat('x=', 50_000), str_repeat('<!--', 20_000), '<style>'.str_repeat('url(', 20_000), '<img srcset="'.str_repeat(',', 50_000).'">', str_repeat('<a href="', 9_000)] as $long) {
            (new HtmlRewriter(self::mapper()))->rewrite($long);
        }
        for ($n = 0; $n < 400; ++$n) {
            $at = mt_rand(0, \strlen($seed));
            $mutant = substr($seed, 0, $at).['<', '>', '"', "'", '<!--', '=', "\0", 'http://'][mt_rand(0, 7)].substr($seed, $at + mt_rand(0, 5));
            $out = (new HtmlRewriter(self::mapper()))->rewrite($mutant);
            // Whatever a parser then finds in the document leads to the archive.
            foreach ((new HTML5(['disable_html_ns' => true]))->loadHTML($out)->getElementsByTagName('*') as $element) {
                foreach (['src', 'srcset', 'href'] as $attribute) {
                    self::assertSame(0, preg_match('~^\s*(?:http:|[\\\\/]{2})~i', $element->getAttribute($attribute)), $mutant);
                }
            }
        }
        self::assertLessThan(60.0, microtime(true) - $start);
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
