<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\App\Catalogue\ColumnDrawing;
use Ypomna\App\Catalogue\Value\CaptureMark;
use Ypomna\App\Catalogue\Value\Layer;
use Ypomna\App\Compare\SideBySide;
use Ypomna\App\Compare\Value\ComparisonRow;
use Ypomna\App\Replay\PageHosts;
use Ypomna\App\Replay\ReplayMode;
use Ypomna\App\Shared\AddressKeys;
use Ypomna\App\Shared\Codes;
use Ypomna\Core\Address\Url;
use Ypomna\Core\Compare\PageComparison;
use Ypomna\Core\Page\Document;

final class SmallPartsTest extends TestCase
{
    #[DataProvider('addresses')]
    public function testAHostOfAnArchivedPageLeadsBackToItsAddress(string $address): void
    {
        $hosts = new PageHosts('localhost');
        foreach (ReplayMode::cases() as $mode) {
            $url = Url::parse($address);
            foreach ([false, true] as $only) {
                foreach (['7k3abcdefghj', 'abcdefghijklmnopqrstuvwxyz'] as $label) {
                    $host = (string) $hosts->hostOf($url, $label, $mode, $only);
                    self::assertMatchesRegularExpression('/^[a-z2-9][a-z0-9_-]{14,62}\.localhost$/D', $host);
                    $asked = $hosts->read($host, $url->target());
                    self::assertSame([$address, $label, $mode, $only, false], [
                        $asked?->spelled, $asked?->label, $asked?->mode, $asked?->only, $asked?->through,
                    ]);
                    self::assertSame($label, $hosts->label($host));
                    $led = $hosts->throughHost($url, $label, $mode, $only);
                    $asked = $hosts->read($led, '/'.$url->scheme.'/'.$url->authority().$url->target());
                    self::assertSame([$address, $label, $mode, $only, true], [
                        $asked?->spelled, $asked?->label, $asked?->mode, $asked?->only, $asked?->through,
                    ]);
                }
            }
        }
    }

    /**
     * @return iterable<string, array{string}>
     */
    public static function addresses(): iterable
    {
        foreach ([
            'http://lantern.test/', 'https://cdn.lantern.test/a?b=c&d', 'http://lantern.test:8080/x', 'https://10.0.0.1:8443/',
            'http://[2001:db8::7]/a', 'http://xn--jxaf1ad4c.test/%CE%B1', 'wss://lantern.test:1/x', 'http://a-b.c--d.test/',
            'http://a-.b.test/',
            'http://a.-b.test/', 'http://-a.test/', 'http://under_score.test/', 'http://10.0.0.1/', 'http://8080.test:99/', 'http://x/',
            'https://'.str_repeat('a-', 20).'b.lantern.test:8443/?', 'http://'.str_repeat('ab.', 80).'lantern.test/',
            'http://'.str_repeat('x', 34).'/', 'http://'.str_repeat('x', 35).'/', 'http://a!b.test/',
        ] as $address) {
            yield $address => [$address];
        }
    }

    public function testOtherHostsAreNoPages(): void
    {
        $hosts = new PageHosts('localhost');
        foreach ([
            'localhost', 'ah-lantern-test.localhost', '7k3abcdefghjax-lantern-test.localhost', '7k3abcdefghjah-lantern-test.example',
            '7k3abcdefghjah-.localhost', '7k3abcdefghjxh-lantern-test.localhost', 'x.7k3abcdefghjah-lantern-test.localhost',
            '7k3abcdefghjah-lantern.test.localhost', '7k3abcdefghjah--'.str_repeat('a', 26).'.localhost', '7k3abcdefghjah--way.localhost',
        ] as $host) {
            self::assertNull($hosts->read($host, '/'), $host);
        }
        foreach ([
            '/', '/http', '/http/', '/ftp/lantern.test/', '/http/a@b/', '/http//a', '/javascript:/x', '/http/lantern.test', "/http/a\nb/",
            '/http/'.str_repeat('a.', 400).'b/',
        ] as $target) {
            self::assertNull($hosts->read('7k3abcdefghjah--way.localhost', $target), $target);
        }
        self::assertFalse($hosts->isPageHost('localhost'));
        self::assertTrue($hosts->isPageHost('http.X.7k3abcdefghj.LOCALHOST'));
    }

    public function testCodesAreShortUnmistakableAndTheSameForTheSame(): void
    {
        $codes = array_map(static fn (int $n): string => Codes::of('record '.$n), range(1, 5_000));
        self::assertCount(5_000, array_unique($codes));
        foreach ($codes as $code) {
            self::assertMatchesRegularExpression('/^'.Codes::PATTERN.'$/D', $code);
        }
        self::assertSame($codes[6], Codes::of('record 7'));
        self::assertNotSame(Codes::random(), Codes::random());
    }

    public function testTheColumnIsAsThickAsWhatChanged(): void
    {
        $layer = static fn (string $at, ?float $changed, int $status = 200, bool $on = false): Layer => new Layer(
            $at, new \DateTimeImmutable($at), $status, $changed, $on,
        );
        $drawing = ColumnDrawing::of([
            $layer('2024-01-01', null),
            $layer('2024-06-01', 0.0),
            $layer('2025-06-01', 0.5),
            $layer('2025-06-02', 0.01, 404),
            $layer('2026-01-01', 1.0, 301, true),
        ]);
        $heights = array_column($drawing->bands, 'height');
        self::assertSame($heights[0], $heights[1]);
        self::assertTrue($heights[1] < $heights[3] && $heights[3] < $heights[2] && $heights[2] < $heights[4]);
        $places = array_column($drawing->bands, 'y');
        $sorted = $places;
        sort($sorted);
        self::assertSame($sorted, $places);
        foreach (\array_slice($drawing->bands, 1) as $n => $band) {
            self::assertGreaterThanOrEqual(
                $drawing->bands[$n]['y'] + $drawing->bands[$n]['height'], $band['y'], 'Layers do not lie over each other.',
            );
        }
        self::assertSame(['kept', 'kept', 'kept', 'gone', 'leads-on'], array_column($drawing->bands, 'kind'));
        self::assertSame(['2024', '2025', '2026'], array_column($drawing->years, 'label'));
        self::assertGreaterThan($places[4], $drawing->height);
        self::assertSame([], ColumnDrawing::of([])->bands);
    }

    public function testBothSidesAreShownWholeAndInOrder(): void
    {
        mt_srand(8);
        for ($round = 0; $round < 40; ++$round) {
            $words = array_map(
                static fn (int $n): string => '<p>'
                    .['The door was inspected', 'Nobody was hurt', 'Water entered', 'Tickets are refunded'][mt_rand(0, 3)].' '.mt_rand(1, 6)
                    .'.',
                range(1, mt_rand(1, 14)),
            );
            $other = $words;
            for ($changes = mt_rand(0, 4); $changes > 0; --$changes) {
                array_splice($other, mt_rand(0, \count($other)), mt_rand(0, 2), ['<p>Something new '.mt_rand(1, 9).'.']);
            }
            [$old, $new] = [Document::fromHtml(implode('', $words)), Document::fromHtml(implode('', $other))];
            $rows = SideBySide::rows($old->passages, $new->passages, PageComparison::of($old, $new)->changes);
            $flat = [];
            foreach ($rows as $row) {
                array_push($flat, ...([] === $row->folded ? [$row] : $row->folded));
            }
            self::assertSame(
                $old->text(),
                implode("\n", array_filter(array_map(static fn (ComparisonRow $row): ?string => $row->old?->text, $flat), \is_string(...))),
            );
            self::assertSame(
                $new->text(),
                implode("\n", array_filter(array_map(static fn (ComparisonRow $row): ?string => $row->new?->text, $flat), \is_string(...))),
            );
        }
    }

    public function testMarksOfAListAndStoredKeys(): void
    {
        $mark = CaptureMark::parse(CaptureMark::of(new \DateTimeImmutable('2024-11-03T10:00:00.123456+02:00'), 77));
        self::assertSame(['2024-11-03T08:00:00.123456', 77], [$mark?->at->format('Y-m-d\TH:i:s.u'), $mark?->id]);
        foreach (['', 'x', '2024-11-03_1', '2024-11-03T10:00:00.000000_', "2024-11-03T10:00:00.000000_1' OR 1"] as $text) {
            self::assertNull(CaptureMark::parse($text));
        }
        $long = AddressKeys::keyOf('http://lantern.test/'.str_repeat('a', 9_000).'1');
        self::assertLessThanOrEqual(2_048, \strlen($long));
        self::assertNotSame($long, AddressKeys::keyOf('http://lantern.test/'.str_repeat('a', 9_000).'2'));
        self::assertSame(AddressKeys::urlHash('http://a.test/x'), AddressKeys::urlHash('http://a.test/x#y'));
        self::assertNotSame(AddressKeys::urlHash('http://a.test/x'), AddressKeys::urlHash('http://a.test/x?'));
        self::assertStringStartsWith('~', AddressKeys::keyOf('no address'));
    }
}
