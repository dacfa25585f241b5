<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Address;

use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Address\AddressPattern;
use Ypomna\Core\Address\InvalidRules;
use Ypomna\Core\Address\Url;
use Ypomna\Tests\Support\ProcessorTime;

final class AddressPatternTest extends TestCase
{
    #[TestWith(['/press/', 'http://a.test/press/2024', true])]
    #[TestWith(['/press/', 'http://a.test/old/press/2024', false])]
    #[TestWith(['press', 'http://a.test/old/press/2024', true])]
    #[TestWith(['print=', 'http://a.test/a?x=1&print=1', true])]
    #[TestWith(['*.pdf$', 'http://a.test/a.pdf', true])]
    #[TestWith(['*.pdf$', 'http://a.test/a.pdf?page=2', false])]
    #[TestWith(['.pdf', 'http://a.test/a.pdf?page=2', true])]
    #[TestWith(['/a/*/c$', 'http://a.test/a/b/c', true])]
    #[TestWith(['/a/*/c$', 'http://a.test/a/b/c/d', false])]
    #[TestWith(['/$', 'http://a.test/', true])]
    #[TestWith(['/$', 'http://a.test/a', false])]
    #[TestWith(['b.test/x', 'http://b.test/x/y', true])]
    #[TestWith(['/x', 'http://a.test/y#/x', false])]
    public function testWhatAPatternMatches(string $pattern, string $url, bool $matches): void
    {
        self::assertSame($matches, (new AddressPattern($pattern))->matches(Url::parse($url)));
    }

    public function testManyStarsTakeNoLonger(): void
    {
        $url = Url::parse('http://a.test/'.str_repeat('a', 4_000));
        $begun = ProcessorTime::seconds();
        self::assertFalse((new AddressPattern('/'.str_repeat('*a', 400).'*b'))->matches($url));
        self::assertLessThan(5.0, ProcessorTime::seconds() - $begun);
    }

    public function testLinesAreReadAndWhatIsTooLongIsNamed(): void
    {
        self::assertSame(['/a', '*.pdf$'], array_map(\strval(...), AddressPattern::lines("/a\r\n\n # nothing\n#x\n *.pdf$ ")));
        try {
            AddressPattern::lines("/a\n".str_repeat('x', 1_001));
            self::fail('It was taken.');
        } catch (InvalidRules $e) {
            self::assertStringContainsString('line 2', $e->getMessage());
        }
        $this->expectException(InvalidRules::class);
        AddressPattern::lines(str_repeat("/a\n", 201));
    }
}
