<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Page;

use PHPUnit\Framework\TestCase;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Completeness\PageSeen;
use Ypomna\Core\Completeness\Troubles;
use Ypomna\Core\Page\Glance;
use Ypomna\Core\Page\Requisites;
use Ypomna\Tests\Support\ProcessorTime;

final class GlanceTest extends TestCase
{
    public function testWhatAPageLeadsTo(): void
    {
        $glance = Glance::at(<<<'HTML'
            <html><head><title>The &amp; page</title><base href="/deep/"><link rel="stylesheet" href="/s.css"><link rel=next href=two>
            <link rel="alternate" type="application/rss+xml" href="/rss">
            <meta http-equiv="refresh" content="30; url='/later'"></head><body><!-- <a href="/commented">no</a> -->
            <script>document.write('<a href="/scripted">no</a>')</script>
            <a href="one?a=1&amp;b=2#part">One</a><A HREF='http://b.test/x'>B</A>
            <a name=x>none</a><a href="javascript:void(0)">no</a><a href="mailto:a@b.test">no</a>
            <map><area href=" /area "></map><a href="one?a=1&amp;b=2#other">again</a><a data-href="/not">no</a>
            <a title="a > b" href="/quoted">yes</a></body></html>
            HTML, Url::parse('http://a.test/x/y'));
        self::assertSame('The & page', $glance->title);
        self::assertSame(
            [
                'http://a.test/deep/two', 'http://a.test/rss', 'http://a.test/later', 'http://a.test/deep/one?a=1&b=2', 'http://b.test/x',
                'http://a.test/area', 'http://a.test/quoted',
            ],
            $glance->links,
        );
        self::assertSame(['http://a.test/rss'], $glance->feeds);
    }

    public function testItsTextsBlockByBlock(): void
    {
        self::assertSame(
            ['T', 'One two three', 'Cell', 'Other'],
            Glance::at(
                "<title>T</title><p>One <b>two</b>\n three<table><tr><td>Cell<td>Other</table><style>p{}</style><script>x</script>",
                Url::parse('http://a.test/'),
            )->pieces,
        );
    }

    public function testBrokenPagesBreakNothing(): void
    {
        mt_srand(11);
        $html = '<title>x</title><a href="/a">A</a><!-- c --><script>"<a href=/b>"</script><p title="1 > 2">Text &amp; more</p><meta'
            .' http-equiv=refresh content="0;url=/c">';
        for ($n = 0; $n < 3_000; ++$n) {
            $bytes = $html;
            for ($k = mt_rand(1, 8); $k > 0; --$k) {
                $bytes[mt_rand(0, \strlen($bytes) - 1)] = \chr(mt_rand(0, 255));
            }
            self::assertLessThanOrEqual(4, \count(Glance::at(mb_scrub($bytes), Url::parse('http://a.test/'))->links));
        }
        foreach ([
            '<a href="', str_repeat('<a href="x" ', 50_000), str_repeat('<!--', 100_000), '<a '.str_repeat("'", 100_000),
            str_repeat('<script>', 20_000), str_repeat('<script ', 100_000), str_repeat('<template ', 100_000),
            str_repeat('<title ', 100_000), str_repeat('<input ', 100_000), '<form '.str_repeat('src=', 200_000),
            str_repeat('<h1>', 100_000), '<meta http-equiv="refresh" content="0;'.str_repeat(' ', 500_000).'x">',
            str_repeat('<a "<', 100_000), str_repeat('<link ', 100_000), str_repeat('<object', 100_000),
        ] as $hostile) {
            $begun = ProcessorTime::seconds();
            Glance::at($hostile, Url::parse('http://a.test/'));
            Requisites::all($hostile);
            Troubles::of(new PageSeen(200, 'http://a.test/', 'http://a.test/', '', '', $hostile));
            self::assertLessThan(10.0, ProcessorTime::seconds() - $begun, substr($hostile, 0, 20));
        }
    }
}
