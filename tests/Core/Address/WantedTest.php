<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Address;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Address\AddressQuery;
use Ypomna\Core\Address\InvalidAddress;
use Ypomna\Core\Address\Key;
use Ypomna\Core\Address\Url;

final class WantedTest extends TestCase
{
    #[DataProvider('addresses')]
    public function testAnAddressIsFoundInWhatWasPasted(string $typed, string $url): void
    {
        self::assertSame($url, (string) AddressQuery::read($typed)->url);
    }

    /**
     * @return iterable<list<string>>
     */
    public static function addresses(): iterable
    {
        yield ['lantern.test/a', 'http://lantern.test/a'];
        yield [' <https://lantern.test/a?b#c> ', 'https://lantern.test/a?b#c'];
        yield [
            'Varga, I.: “Held in port”. The Lantern, 11 Nov. 2024. http://lantern.test/2024/11/petrel-dawn-held. Last seen 3 Dec. 2024.',
            'http://lantern.test/2024/11/petrel-dawn-held',
        ];
        yield ['see www.lantern.test/a(b)_c), and so on', 'http://www.lantern.test/a(b)_c'];
        yield ["[12] The board's log, harbour.example/log/12;\nmore", 'http://harbour.example/log/12'];
        yield ['write to ilse@watch.test or see αλυκή.test/νέα!', 'http://xn--jxaf1ad4c.test/%CE%BD%CE%AD%CE%B1'];
    }

    #[DataProvider('ranges')]
    public function testAStarStandsForAllBelow(string $typed, string $inside, string $outside): void
    {
        $range = AddressQuery::read($typed)->range;
        self::assertNotNull($range);
        $in = static fn (string $url): bool => Key::of(Url::parse($url)) >= $range[0] && Key::of(Url::parse($url)) < $range[1];
        self::assertTrue($in($inside));
        self::assertFalse($in($outside));
    }

    /**
     * @return iterable<list<string>>
     */
    public static function ranges(): iterable
    {
        yield ['lantern.test/*', 'https://www.lantern.test/a/b?c', 'http://cdn.lantern.test/'];
        yield ['http://lantern.test/2024/*', 'http://lantern.test/2024/11/x', 'http://lantern.test/2025/'];
        yield ['lantern.test/20*', 'http://lantern.test/2025/', 'http://lantern.test/1999/'];
        yield ['*.lantern.test', 'http://cdn.lantern.test/x', 'http://lanterns.test/'];
        yield ['*.lantern.test/*', 'http://lantern.test/x', 'http://lantern.example/'];
        yield ['lantern.test:8080/*', 'http://lantern.test:8080/x', 'http://lantern.test/x'];
    }

    public function testAllElseIsWords(): void
    {
        foreach ([
            'lantern stern door 2024' => [['lantern', 'stern', 'door', '2024'], [2024]],
            'Stern-Door' => [['stern', 'door'], []],
            'Νότα πλοίου, 1998!' => [['νότα', 'πλοίου', '1998'], [1998]],
            'a*b*c' => [['a', 'b', 'c'], []],
        ] as $typed => [$words, $years]) {
            $wanted = AddressQuery::read($typed);
            self::assertSame([null, null, $words, $years], [$wanted->url, $wanted->range, $wanted->words, $wanted->years], $typed);
        }
    }

    public function testWhatIsNeitherSaysWhy(): void
    {
        foreach (['', ' ', '???', 'ftp://lantern.test/x', 'http://[::/', '<script>alert(1)</script>'] as $typed) {
            try {
                AddressQuery::read($typed);
                self::fail($typed);
            } catch (InvalidAddress $e) {
                self::assertNotSame('', $e->getMessage());
            }
        }
        self::assertLessThanOrEqual(12, \count(AddressQuery::read(implode(' ', range(1, 5_000)))->words));
    }
}
