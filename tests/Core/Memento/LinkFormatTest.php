<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Memento;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Memento\HeldElsewhere;
use Ypomna\Core\Memento\LinkFormat;
use Ypomna\Core\Memento\TimeMap;
use Ypomna\Core\Memento\WebLink;
use Ypomna\Tests\Support\ProcessorTime;

final class LinkFormatTest extends TestCase
{
    /**
     * @param list<array{string, list<string>, array<string, string>}> $links
     */
    #[DataProvider('texts')]
    public function testLinksAreRead(string $text, array $links): void
    {
        self::assertSame(
            $links,
            array_map(
                static fn (WebLink $link): array => [$link->target, $link->relations, array_diff_key($link->attributes, ['rel' => 0])],
                iterator_to_array(LinkFormat::read($text), false),
            ),
        );
    }

    /** @return iterable<string, array{string, list<array{string, list<string>, array<string, string>}>}> */
    public static function texts(): iterable
    {
        yield 'none' => ['', []];
        yield 'bare and quoted values' => [
            '<http://a.test/>;rel=original , <http://a.test/b>; rel="First  Memento" ;datetime="Sun, 03 Nov 2024 10:00:00 GMT"',
            [
                ['http://a.test/', ['original'], []],
                ['http://a.test/b', ['first', 'memento'], ['datetime' => 'Sun, 03 Nov 2024 10:00:00 GMT']],
            ],
        ];
        yield 'commas and semicolons in addresses' => [
            '<http://a.test/x,y;z?a=1,2>; rel=memento', [['http://a.test/x,y;z?a=1,2', ['memento'], []]],
        ];
        yield 'escapes in quotations' => ['<a>; title="say \"so\", then; go"; rel=x', [['a', ['x'], ['title' => 'say "so", then; go']]]];
        yield 'the first of a name counts' => ['<a>; rel=one; rel=two', [['a', ['one'], []]]];
        yield 'a name without a value' => ['<a>; crossorigin; rel=x', [['a', ['x'], ['crossorigin' => '']]]];
        yield 'rubbish is passed over' => ['nonsense "a, <b>" more, <c>; rel=x, =, <d>;rel=y', [['c', ['x'], []], ['d', ['y'], []]]];
        yield 'never closed' => ['<a>; rel="x, <b>; rel=y', [['a', [], []], ['b', ['y'], []]]];
    }

    public function testMutatedTextsEndAndBringNothingDown(): void
    {
        $text = "<http://a.test/>; rel=\"original\",\n<http://m.test/1/http://a.test/>; rel=\"first memento\"; datetime=\"Tue, 20 Jun"
            .' 2023 18:02:59 GMT", <http://m.test/list>; rel=timemap';
        mt_srand(7);
        for ($i = 0; $i < 3_000; ++$i) {
            $mutant = $text;
            for ($n = mt_rand(1, 8); $n > 0; --$n) {
                $at = mt_rand(0, \strlen($mutant) - 1);
                $mutant = match (mt_rand(0, 2)) {
                    0 => substr_replace($mutant, \chr(mt_rand(0, 255)), $at, 1),
                    1 => substr($mutant, 0, $at).substr($mutant, $at + mt_rand(1, 9)).' ',
                    default => substr_replace($mutant, '",;<>= '[mt_rand(0, 6)], $at, 0),
                };
            }
            self::assertLessThan(20, \count(iterator_to_array(LinkFormat::read($mutant), false)));
        }
        $begun = ProcessorTime::seconds();
        self::assertLessThan(2, \count(iterator_to_array(LinkFormat::read(str_repeat('"', 200_000).'<a>; rel=x'), false)));
        self::assertLessThan(5.0, ProcessorTime::seconds() - $begun);
    }

    public function testATimeMapNamesCapturesAndItsFurtherPages(): void
    {
        $map = TimeMap::read(<<<'LINKS'
            <http://a.test/>; rel="original",
            </list/http://a.test/>; rel="self"; type="application/link-format"; from="Tue, 20 Jun 2023 18:02:59 GMT",
            <https://m.test/list/2/http://a.test/>; rel="timemap"; type="application/link-format",
            <https://m.test/json/http://a.test/>; rel="timemap"; type="application/json",
            <https://m.test/gate/http://a.test/>; rel="timegate",
            <https://m.test/1>; rel="first memento"; datetime="Tue, 20 Jun 2023 18:02:59 GMT",
            </2>; rel="memento"; datetime="Wed, 21 Jun 2023 18:02:59 GMT",
            <javascript:alert(1)>; rel="memento"; datetime="Wed, 21 Jun 2023 18:02:59 GMT",
            <https://m.test/3>; rel="memento"; datetime="yesterday"
            LINKS, Url::parse('https://m.test/list/http://a.test/'));
        self::assertSame(
            ['https://m.test/1 2023-06-20', 'https://m.test/2 2023-06-21'],
            array_map(static fn (HeldElsewhere $held): string => $held->url.' '.$held->at->format('Y-m-d'), $map->held),
        );
        self::assertSame(['https://m.test/list/2/http://a.test/'], array_map(strval(...), $map->further));
        self::assertSame('https://m.test/gate/http://a.test/', (string) $map->timeGate);
    }
}
