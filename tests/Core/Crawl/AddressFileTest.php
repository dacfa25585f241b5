<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Crawl;

use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Crawl\AddressFile;

final class AddressFileTest extends TestCase
{
    private const MAP = '<?xml version="1.0"?><urlset xmlns="http://www.sitemaps.org/schemas/sitemap/0.9" xmlns:image="x"><url><loc>'
        .' http://a.test/one'
        .' </loc><image:image><image:loc>http://a.test/p.png</image:loc></image:image></url><url><loc>'
        .'<![CDATA[http://a.test/two?a=1&b=2]]></loc></url></urlset>';

    /**
     * @param list<string> $pages
     */
    #[TestWith([self::MAP, ['http://a.test/one', 'http://a.test/two?a=1&b=2']])]
    #[TestWith(["http://a.test/one\r\nnothing\nhttps://b.test/two\n", ['http://a.test/one', 'https://b.test/two']])]
    #[TestWith([
        '<feed xmlns="http://www.w3.org/2005/Atom"><link href="/"/><link rel="self" href="/feed"/><entry><link rel="alternate"'
            .' href="one"/><link rel="edit" href="/no"/></entry></feed>',
        ['http://a.test/', 'http://a.test/maps/one'],
    ])]
    #[TestWith([
        '<rss version="2.0"><channel><link>http://a.test/</link><item><link>http://a.test/one</link><guid>x</guid></item></channel></rss>',
        ['http://a.test/', 'http://a.test/one'],
    ])]
    #[TestWith([
        '<rdf:RDF xmlns:rdf="r" xmlns="http://purl.org/rss/1.0/"><item rdf:about="x"><link>http://a.test/one</link></item></rdf:RDF>',
        ['http://a.test/one'],
    ])]
    #[TestWith([
        '<urlset><url><loc>http://a.test/one</loc></url><url><loc>http://a.test/two</loc></url><url><lo',
        ['http://a.test/one', 'http://a.test/two'],
    ])]
    #[TestWith(['<urlset><url><loc>javascript:alert(1)</loc></url><url><loc>file:///etc/passwd</loc></url></urlset>', []])]
    #[TestWith(['', []])]
    public function testFilesThatNamePages(string $bytes, array $pages): void
    {
        self::assertSame($pages, AddressFile::read([$bytes], Url::parse('http://a.test/maps/x'))->pages);
    }

    public function testListsOfSitemapsAndPackedOnes(): void
    {
        $file = AddressFile::read(
            [(string) gzencode('<sitemapindex><sitemap><loc>http://a.test/1.xml</loc></sitemap></sitemapindex>')],
            Url::parse('http://a.test/'),
        );
        self::assertSame([[], ['http://a.test/1.xml']], [$file->pages, $file->sitemaps]);
    }

    public function testHostileFilesBringNothingInAndDoNotSwell(): void
    {
        $secret = tempnam(sys_get_temp_dir(), 'secret');
        file_put_contents($secret, 'http://a.test/secret');
        $outside = '<!DOCTYPE u [<!ENTITY x SYSTEM "file://'.$secret.'">]><urlset><url><loc>http://a.test/a&x;</loc></url></urlset>';
        self::assertStringNotContainsString('secret', implode(' ', AddressFile::read([$outside], Url::parse('http://a.test/'))->pages));
        unlink($secret);
        $laughs = '<!DOCTYPE u [<!ENTITY a "http://a.test/aaaaaaaaaaaaaaaaaaaa">';
        foreach (range('b', 'k') as $n => $name) {
            $laughs .= '<!ENTITY '.$name.' "'.str_repeat('&'.\chr(97 + $n).';', 10).'">';
        }
        $before = memory_get_peak_usage(true);
        AddressFile::read([$laughs.']><urlset><url><loc>&k;</loc></url></urlset>'], Url::parse('http://a.test/'));
        AddressFile::read([(string) gzencode(str_repeat(' ', 80_000_000))], Url::parse('http://a.test/'));
        self::assertLessThan(300_000_000, memory_get_peak_usage(true) - $before);
        $many = AddressFile::read((static function (): \Generator {
            yield '<urlset>';
            for ($n = 0; $n < 60_000; ++$n) {
                yield "<url><loc>http://a.test/{$n}</loc></url>";
            }
        })(), Url::parse('http://a.test/'));
        self::assertCount(AddressFile::MOST, $many->pages);
    }

    public function testMutatedFilesBreakNothing(): void
    {
        mt_srand(7);
        for ($n = 0; $n < 2_000; ++$n) {
            $bytes = self::MAP;
            for ($k = mt_rand(1, 6); $k > 0; --$k) {
                $bytes[mt_rand(0, \strlen($bytes) - 1)] = \chr(mt_rand(0, 255));
            }
            self::assertLessThanOrEqual(3, \count(AddressFile::read([$bytes], Url::parse('http://a.test/'))->pages));
        }
        self::assertSame([], libxml_get_errors());
    }
}
