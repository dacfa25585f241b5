<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Fetch;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Fetch\Robots;
use Ypomna\Tests\Support\ProcessorTime;

final class RobotsTest extends TestCase
{
    /**
     * @param array<string, bool> $paths
     */
    #[DataProvider('files')]
    public function testWhatMayBeFetched(string $text, array $paths): void
    {
        $robots = Robots::parse($text, 'Ypomna');
        foreach ($paths as $path => $allowed) {
            self::assertSame($allowed, $robots->allows(Url::parse('http://lantern.test'.$path)), $path);
        }
    }

    /** @return iterable<string, array{string, array<string, bool>}> */
    public static function files(): iterable
    {
        yield 'nothing said' => ['', ['/a' => true]];
        yield 'all closed' => ["User-agent: *\nDisallow: /", ['/' => false, '/a' => false, '/robots.txt' => true]];
        yield 'an empty rule closes nothing' => ["User-agent: *\nDisallow:", ['/a' => true]];
        yield 'the longest rule decides' => [
            "User-agent: *\nDisallow: /a\nAllow: /a/b", ['/a' => false, '/a/c' => false, '/a/b' => true, '/a/bc' => true, '/b' => true],
        ];
        yield 'of two as long the one that allows' => ["User-agent: *\nAllow: /page\nDisallow: /page", ['/page' => true]];
        yield 'one\'s own group before the others' => [
            "User-agent: *\nDisallow: /\n\nUser-agent: ypomna/1.0\nDisallow: /private", ['/a' => true, '/private/x' => false],
        ];
        yield 'several names of one group' => ["User-agent: other\nUser-agent: YPOMNA\nDisallow: /x", ['/x' => false, '/y' => true]];
        yield 'a group in two pieces' => [
            "User-agent: ypomna\nDisallow: /x\nUser-agent: other\nDisallow: /\nUser-agent: ypomna\nDisallow: /y",
            ['/x' => false, '/y' => false, '/z' => true],
        ];
        yield 'stars and ends' => [
            "User-agent: *\nDisallow: /*.pdf$\nDisallow: /*/edit\nDisallow: /*?session=",
            ['/a.pdf' => false, '/a.pdf?x' => true, '/a/b/edit' => false, '/edit' => true, '/x?session=1' => false],
        ];
        yield 'comments, line ends, a mark at the beginning' => [
            "\xEF\xBB\xBFUser-Agent : * # all\r\nDISALLOW : /x # not this\rAllow: /x/y", ['/x' => false, '/x/y' => true],
        ];
        yield 'codings of one path' => [
            "User-agent: *\nDisallow: /caf%C3%A9\nDisallow: /%7Ejoe", ['/café' => false, '/caf%c3%a9' => false, '/~joe/x' => false],
        ];
        yield 'rules before any name are nobody\'s' => ["Disallow: /\nUser-agent: other\nDisallow: /", ['/a' => true]];
        yield 'other lines part no group' => ["User-agent: *\nSitemap: http://lantern.test/map.xml\nDisallow: /x", ['/x' => false]];
    }

    public function testAnswersOfAllKinds(): void
    {
        $url = Url::parse('http://lantern.test/a');
        self::assertTrue(Robots::answered(404, 'User-agent: *\nDisallow: /', 'ypomna')->allows($url));
        self::assertFalse(Robots::answered(503, '', 'ypomna')->allows($url));
        self::assertFalse(Robots::answered(null, '', 'ypomna')->allows($url));
        self::assertFalse(Robots::answered(200, "User-agent: *\nDisallow: /a", 'ypomna')->allows($url));
    }

    public function testSitemapsAndDelays(): void
    {
        $robots = Robots::parse("User-agent: *\nCrawl-delay: 2.5\nSitemap: http://lantern.test/map.xml\nSitemap:/other.xml", 'ypomna');
        self::assertSame([['http://lantern.test/map.xml', '/other.xml'], 2.5], [$robots->maps, $robots->delay]);
    }

    public function testHostileFilesCostLittle(): void
    {
        $begun = ProcessorTime::seconds();
        $robots = Robots::parse("User-agent: *\n".str_repeat('Disallow: /'.str_repeat('a*', 200)."b\n", 1_000), 'ypomna');
        self::assertTrue($robots->allows(Url::parse('http://lantern.test/'.str_repeat('a', 5_000))));
        mt_srand(3);
        for ($i = 0; $i < 300; ++$i) {
            Robots::parse(implode('', array_map(static fn (): string => \chr(mt_rand(0, 255)), range(1, 400))), 'ypomna');
        }
        self::assertLessThan(8.0, ProcessorTime::seconds() - $begun);
    }
}
