<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Address;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Address\AddressList;
use Ypomna\Core\Address\ListedAddress;
use Ypomna\Core\Address\Url;

final class AddressListTest extends TestCase
{
    /**
     * @param list<array{string, string, int}> $addresses
     * @param list<int> $unread
     */
    #[DataProvider('lists')]
    public function testAddressesAreFoundInWhatPeopleHave(string $text, array $addresses, array $unread = [], ?string $base = null): void
    {
        $list = AddressList::read($text, null === $base ? null : Url::parse($base));
        self::assertSame(
            $addresses, array_map(static fn (ListedAddress $one): array => [$one->url, $one->title, $one->line], $list->addresses),
        );
        self::assertSame($unread, array_keys($list->unread));
    }

    /** @return iterable<string, array{0: string, 1: list<array{string, string, int}>, 2?: list<int>, 3?: string}> */
    public static function lists(): iterable
    {
        yield 'nothing' => ['', []];
        yield 'one a line' => [
            "http://lantern.test/a\r\n\r\n# a remark\nlantern.test/b#part\nwww.lantern.test",
            [['http://lantern.test/a', '', 1], ['http://lantern.test/b', '', 4], ['http://www.lantern.test/', '', 5]],
        ];
        yield 'lines without' => [
            "http://lantern.test/a\nto do: ask Mabyn\nftp://lantern.test/x", [['http://lantern.test/a', '', 1]], [2, 3],
        ];
        yield 'in sentences' => [
            'See (http://lantern.test/a_(b)), http://lantern.test/c. And <http://lantern.test/d>!',
            [['http://lantern.test/a_(b)', '', 1], ['http://lantern.test/c', '', 1], ['http://lantern.test/d', '', 1]],
        ];
        yield 'a table' => [
            "title,url,seen\n\"The seal, again\",http://lantern.test/a,2024\n\"He said \"\"no\"\"\",https://lantern.test/b?x=1,2025",
            [['http://lantern.test/a', 'The seal, again', 2], ['https://lantern.test/b?x=1', 'He said "no"', 3]],
        ];
        yield 'a table with semicolons' => ["Adresse;Titel\nhttp://lantern.test/a;Der Rest", [['http://lantern.test/a', 'Der Rest', 2]]];
        yield 'twice' => ["http://lantern.test/a\nhttp://lantern.test/a#x", [['http://lantern.test/a', '', 1]]];
        yield 'bookmarks' => [
            "<!DOCTYPE NETSCAPE-Bookmark-file-1>\n<DL><p>\n<DT><H3>Ferries</H3>\n<DT><A HREF=\"http://lantern.test/a?x=1&amp;y=2\""
                ." ADD_DATE=\"1\">The &lt;Lantern&gt;</A>\n<DT><A HREF=\"javascript:alert(1)\">no</A>\n<DT><A HREF='place:x'>no</A></DL>",
            [['http://lantern.test/a?x=1&y=2', 'The <Lantern>', 4]],
        ];
        yield 'a session' => [
            '{"version":["sessionrestore",1],"windows":[{"tabs":[{"entries":[{"url":"http://lantern.test/","title":"Before"},'
                ."\n".'{"url":"http://lantern.test/a#b","title":"The \"seal\" \u00e9","children":[]}],"index":2,"image":'
                .'"http://lantern.test/icon.png"},{"entries":[{"url":"about:blank","title":"x"}],"index":1}]}]}',
            [['http://lantern.test/a', 'The "seal" é', 2]],
        ];
        yield 'bookmarks as an object' => [
            '{"roots":{"bar":{"children":[{"name":"The door","type":"url","url":"https://lantern.test/door"},{"children":'
                .'[{"name":"Deep","url":"http://lantern.test/deep"}],"name":"Folder"}],"name":"Bar"}},"version":1}',
            [['https://lantern.test/door', 'The door', 1], ['http://lantern.test/deep', 'Deep', 1]],
        ];
        yield 'bookmarks with places' => [
            '{"title":"Bar","index":1,"children":[{"uri":"http://lantern.test/a","index":0},{"uri":"http://lantern.test/b","index":1}]}',
            [['http://lantern.test/a', '', 1], ['http://lantern.test/b', '', 1]],
        ];
        yield 'an object that is broken off' => [
            '[{"url":"http://lantern.test/a","title":"A"},{"title":"B","url":"http://lantern.test/b"', [
                ['http://lantern.test/a', 'A', 1], ['http://lantern.test/b', 'B', 1],
            ],
        ];
        yield 'a reading list' => [
            '<?xml version="1.0" encoding="UTF-8"?>'."\n".'<!DOCTYPE plist PUBLIC "-//A//DTD PLIST 1.0//EN" "http://a.test/list.dtd">'
                ."\n".'<plist version="1.0"><dict><key>Title</key><string>List</string><key>Children</key><array>'."\n".'<dict>'
                .'<key>URIDictionary</key><dict><key>title</key><string>Seal &amp; door</string></dict>'
                .'<key>URLString</key><string>http://lantern.test/a</string></dict></array></dict></plist>',
            [['http://lantern.test/a', 'Seal & door', 4]],
        ];
        yield 'outlines' => [
            '<opml version="2.0"><body><outline text="Ferries"><outline text="Lantern" xmlUrl="http://lantern.test/feed" '
                .'htmlUrl="http://lantern.test/"/></outline></body></opml>',
            [['http://lantern.test/', 'Lantern', 1]],
        ];
        yield 'bookmarks in XML' => [
            '<xbel version="1.0"><folder><title>F</title><bookmark'
                .' href="http://lantern.test/a"><title>A</title></bookmark></folder></xbel>',
            [['http://lantern.test/a', 'A', 1]],
        ];
        yield 'a feed' => [
            '<rss version="2.0"><channel><title>C</title><link>http://lantern.test/</link><image><url>http://lantern.test/i.png</url>'
                .'</image><item><title>One</title><link>http://lantern.test/1</link><description>&lt;a href="http://x.test"&gt;'
                .'</description></item></channel></rss>',
            [['http://lantern.test/', 'C', 1], ['http://lantern.test/1', 'One', 1]],
        ];
        yield 'a feed of entries' => [
            '<feed xmlns="http://www.w3.org/2005/Atom"><link rel="self" href="http://lantern.test/atom"/><entry><title>E</title>'
                .'<link href="http://lantern.test/e"/><link rel="enclosure" href="http://lantern.test/e.mp3"/></entry></feed>',
            [['http://lantern.test/e', 'E', 1]],
        ];
        yield 'a map of a site' => [
            '<urlset xmlns="http://www.sitemaps.test/0.9"><url><loc>http://lantern.test/m</loc></url></urlset>',
            [['http://lantern.test/m', '', 1]],
        ];
        yield 'entities of its own' => [
            '<!DOCTYPE rss [<!ENTITY a "&b;&b;">]><rss><item><link>http://lantern.test/&a;</link></item></rss>', [
                ['http://lantern.test/&a', '', 1],
            ],
        ];
        yield 'links of a page' => [
            "<a class=x href='/b'>B <b>bold</b></a> <a href=c>C</a> <a name=d>no</a><!-- <a href=e>no</a> -->",
            [['http://lantern.test/b', 'B bold', 1], ['http://lantern.test/x/c', 'C', 1]],
            [],
            'http://lantern.test/x/y',
        ];
        yield 'international names' => [
            "bücher.example/ä\nφέρι.example", [['http://xn--bcher-kva.example/%C3%A4', '', 1], ['http://xn--ixayxs.example/', '', 2]],
        ];
    }

    public function testLongListsAreCutAndSaySo(): void
    {
        $list = AddressList::read(implode(
            "\n", array_map(static fn (int $n): string => 'http://lantern.test/'.$n, range(1, AddressList::MOST + 5)),
        ));
        self::assertTrue($list->isCut);
        self::assertCount(AddressList::MOST, $list->addresses);
    }

    public function testMutatedListsBringNothingDown(): void
    {
        $text = "title;url\n\"a;b\";http://lantern.test/a\n<a href=\"http://lantern.test/b\">B</a>\nlantern.test/ä";
        mt_srand(5);
        for ($i = 0; $i < 2_000; ++$i) {
            $mutant = $text;
            for ($n = mt_rand(1, 9); $n > 0; --$n) {
                $mutant = substr_replace($mutant, \chr(mt_rand(0, 255)), mt_rand(0, \strlen($mutant) - 1), mt_rand(0, 3));
            }
            self::assertLessThan(12, \count(AddressList::read($mutant, Url::parse('http://lantern.test/'))->addresses));
        }
        foreach (self::lists() as [$text]) {
            if (1 !== preg_match('/^(?:[{\[]|<(?!a|!DOCTYPE N))/', $text)) {
                continue;
            }
            for ($i = 0; $i < 200; ++$i) {
                $mutant = $text;
                for ($n = mt_rand(1, 9); $n > 0; --$n) {
                    $mutant = substr_replace($mutant, \chr(mt_rand(0, 255)), mt_rand(0, \strlen($mutant) - 1), mt_rand(0, 3));
                }
                self::assertLessThan(12, \count(AddressList::read($mutant)->addresses));
            }
        }
    }
}
