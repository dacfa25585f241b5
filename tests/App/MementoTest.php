<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use PHPUnit\Framework\Attributes\DataProvider;
use Ypomna\Tests\Support\WarcBuilder;

/** The standard protocol for the past of an address: RFC 7089. */
final class MementoTest extends AppTestCase
{
    private const PAGE = 'http://lantern.test/a?x=1&y=2';

    protected function setUp(): void
    {
        parent::setUp();
        foreach (['2024-01-01' => 'one', '2024-03-01' => 'two', '2025-01-01' => 'three'] as $day => $text) {
            $this->takeIn((new WarcBuilder($day))->exchange(self::PAGE, $day.'T10:00:00Z', '<p>'.$text.'<script>alert(1)</script>'));
        }
    }

    #[DataProvider('moments')]
    public function testATimeGateLeadsToTheNearestCapture(?string $wanted, string $day): void
    {
        $this->client->request('GET', '/timegate/'.self::PAGE, server: null === $wanted ? [] : ['HTTP_ACCEPT_DATETIME' => $wanted]);
        self::assertSame([302, 'Accept-Datetime'], [$this->answered(), $this->header('Vary')]);
        self::assertSame('http://localhost:8020/c/'.$this->captureOf(self::PAGE, $day)->code.'/raw', $this->header('Location'));
        self::assertStringContainsString('<http://lantern.test/a?x=1&y=2>; rel="original"', $this->header('Link'));
        self::assertStringContainsString('rel="first memento"; datetime="Mon, 01 Jan 2024 10:00:00 GMT"', $this->header('Link'));
        self::assertStringContainsString('rel="last memento"; datetime="Wed, 01 Jan 2025 10:00:00 GMT"', $this->header('Link'));
        self::assertStringContainsString(
            '<http://localhost:8020/timemap/link/http://lantern.test/a?x=1&y=2>; rel="timemap"', $this->header('Link'),
        );
    }

    /**
     * @return iterable<array{string|null, string}>
     */
    public static function moments(): iterable
    {
        yield [null, '2025-01-01'];
        yield ['Mon, 29 Jan 2024 00:00:00 GMT', '2024-01-01'];
        yield ['Fri, 01 Mar 2024 10:00:00 GMT', '2024-03-01'];
        yield ['Thu, 01 Jan 1998 00:00:00 GMT', '2024-01-01'];
        yield ['Fri, 01 Jan 2100 00:00:00 GMT', '2025-01-01'];
    }

    public function testWhatIsNoDateNoAddressOrNeverKeptSaysSo(): void
    {
        foreach ([
            ['/timegate/'.self::PAGE, 'yesterday', 400], ['/timegate/lantern', null, 400],
            ['/timegate/http://lantern.test/never', null, 404], ['/timemap/link/http://lantern.test/never', null, 404],
            ['/timemap/json/::', null, 400], ['/timemap/link/from/x-y/http://lantern.test/', null, 400],
        ] as [$path, $wanted, $status]) {
            $this->client->request('GET', $path, server: null === $wanted ? [] : ['HTTP_ACCEPT_DATETIME' => $wanted]);
            self::assertSame($status, $this->answered(), $path);
        }
    }

    public function testACaptureAsItWasReceivedIsShutIn(): void
    {
        $capture = $this->captureOf(self::PAGE, '2024-03-01');
        self::assertSame('<p>two<script>alert(1)</script>', $this->get('/c/'.$capture->code.'/raw'));
        self::assertSame(
            ['Fri, 01 Mar 2024 10:00:00 GMT', "sandbox; default-src 'none'", 'nosniff'],
            [$this->header('Memento-Datetime'), $this->header('Content-Security-Policy'), $this->header('X-Content-Type-Options')],
        );
        foreach (['first', 'prev', 'next', 'last'] as $relation) {
            self::assertMatchesRegularExpression('/rel="[a-z ]*\b'.$relation.'\b[a-z ]*memento"/', $this->header('Link'));
        }
        $this->get('/c/'.$capture->code);
        self::assertSame('Fri, 01 Mar 2024 10:00:00 GMT', $this->header('Memento-Datetime'));
    }

    public function testATimeMapListsAllPageByPage(): void
    {
        $links = $this->get('/timemap/link/'.self::PAGE);
        self::assertSame('application/link-format', $this->header('Content-Type'));
        self::assertSame(3, substr_count($links, 'rel="memento"'));
        self::assertStringContainsString(
            'rel="self"; type="application/link-format"; from="Mon, 01 Jan 2024 10:00:00 GMT"; until="Wed, 01 Jan 2025 10:00:00 GMT"',
            $links,
        );
        $many = new WarcBuilder('many');
        for ($n = 0; $n < 120; ++$n) {
            $many->exchange('http://lantern.test/many', \sprintf('2024-11-03T10:%02d:%02dZ', intdiv($n, 60), $n % 60), 'x'.$n);
        }
        $this->takeIn($many);
        $moments = [];
        $pages = 0;
        for ($next = '/timemap/json/http://www.lantern.test:80/many'; '' !== $next; ++$pages) {
            $map = json_decode($this->get((string) preg_replace('#^https?://[^/]+#', '', $next)), true);
            self::assertIsArray($map);
            self::assertIsArray($map['mementos']);
            array_push($moments, ...array_column($map['mementos'], 'datetime'));
            $next = \is_string($map['next']) ? $map['next'] : '';
        }
        self::assertSame([3, 120, 120], [$pages, \count($moments), \count(array_unique($moments, \SORT_REGULAR))]);
        $this->get('/address/'.$this->captureOf('http://lantern.test/many')->address->code.'/at/2024-11-03T10:01:30.4Z');
        self::assertSame('/c/'.$this->captureOf('http://lantern.test/many', '2024-11-03T10:01:30Z')->code, $this->header('Location'));
    }
}
