<?php

declare(strict_types=1);

namespace Ypomna\Tests\Core\Compare;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Ypomna\Core\Compare\ChangeKind;
use Ypomna\Core\Compare\HiddenChange;
use Ypomna\Core\Compare\LookComparison;
use Ypomna\Core\Compare\LookRegion;
use Ypomna\Core\Compare\PageRows;
use Ypomna\Core\Compare\PartComparison;
use Ypomna\Core\Compare\PictureHash;
use Ypomna\Core\Compare\PictureRelation;
use Ypomna\Core\Compare\SourceLines;
use Ypomna\Core\Page\Document;

/** Pictures of pages, pictures in pages, markup, and what is not seen. */
final class LookTest extends TestCase
{
    public function testOnlyWhatLooksOtherwiseIsOutlined(): void
    {
        $old = self::page([[40, 1], [60, 2], [80, 3], [50, 4]]);
        self::assertSame([], LookComparison::of($old, self::page([[40, 1], [60, 2], [80, 3], [50, 4]]))->regions);
        // Put in at the top: nothing below changes.
        self::assertSame(['added'], self::kinds(LookComparison::of($old, self::page([[30, 9], [40, 1], [60, 2], [80, 3], [50, 4]]))));
        self::assertSame(['removed'], self::kinds(LookComparison::of($old, self::page([[40, 1], [80, 3], [50, 4]]))));
        $changed = LookComparison::of($old, self::page([[40, 1], [60, 7], [80, 3], [50, 4]]))->regions;
        self::assertCount(1, $changed);
        self::assertSame(ChangeKind::Changed, $changed[0]->kind);
        self::assertSame(80, $changed[0]->old[1] ?? null);
        self::assertSame(['moved'], self::kinds(LookComparison::of($old, self::page([[60, 2], [80, 3], [50, 4], [40, 1]]))));
    }

    public function testAPageInTilesIsOnePage(): void
    {
        $rows = PageRows::of([self::drawing([[40, 1]], 100), self::drawing([[40, 2]], 100)]);
        self::assertCount(200, $rows->rows);
        self::assertCount(2, $rows->blocks());
        self::assertSame([], PageRows::of(['no picture'])->rows);
    }

    #[DataProvider('pictures')]
    public function testAPictureIsKnownAgainWhenItWasSavedAnewMadeSmallerOrCut(string $old, string $new, PictureRelation $relation): void
    {
        self::assertSame($relation, PictureHash::of($old)?->relation(PictureHash::of($new) ?? throw new \LogicException('no picture')));
    }

    /**
     * @return iterable<string, array{string, string, PictureRelation}>
     */
    public static function pictures(): iterable
    {
        $picture = self::scene(400, 300, 3);
        yield 'saved anew' => [self::encoded($picture, 'png'), self::encoded($picture, 'jpeg'), PictureRelation::SavedAnew];
        yield 'smaller' => [
            self::encoded($picture, 'png'), self::encoded(self::scaled($picture, 200, 150), 'jpeg'), PictureRelation::Resized,
        ];
        yield 'cut' => [self::encoded($picture, 'png'), self::encoded(self::cut($picture, 60, 40, 280, 210), 'png'), PictureRelation::Cut];
        yield 'another' => [self::encoded($picture, 'png'), self::encoded(self::scene(400, 300, 77), 'png'), PictureRelation::Other];
    }

    public function testWhatIsNoPictureHasNoHash(): void
    {
        self::assertNull(PictureHash::of('<svg/>'));
        // A picture that says it were huge.
        self::assertNull(PictureHash::of("\x89PNG\r\n\x1a\n\0\0\0\rIHDR\0\0\xFF\xFF\0\0\xFF\xFF\x08\x02\0\0\0\0\0\0\0"));
    }

    public function testMarkupIsComparedTagByTag(): void
    {
        $lines = SourceLines::of("<div>\n  <p>One\n two</p><p class=a>Three</p></div>", '<div><p>One two</p><p class=b>Three</p></div>');
        self::assertSame(
            [['-', '<p class=a>'], ['+', '<p class=b>']],
            array_values(array_filter($lines, static fn (array $line): bool => \in_array($line[0], ['+', '-'], true))),
        );
        self::assertSame([], array_filter(SourceLines::of('<p> a', "<p>\na"), static fn (array $line): bool => '…' !== $line[0]));
    }

    public function testTextThatWasHiddenOrBecameVisibleIsAFinding(): void
    {
        $read = static fn (string $html): Document => Document::fromHtml('<!doctype html>'.$html, 'text/html; charset=utf-8');
        $changes = HiddenChange::between($read('<p>One.<p hidden>Two.<p hidden>Three.'), $read('<p hidden>One.<p>Two.<p hidden>Four.'));
        self::assertSame(
            ['hid One.', 'added Four.', 'shown Two.', 'removed Three.'],
            array_map(static fn (HiddenChange $c): string => $c->kind->value.' '.$c->text, $changes),
        );
    }

    public function testWhatStandsBehindAPage(): void
    {
        $read = static fn (string $html): Document => Document::fromHtml(
            '<!doctype html>'.$html, 'text/html; charset=utf-8', 'http://lantern.test/',
        );
        $old = $read(
            '<meta name=robots content=index><link rel=stylesheet href="/a.css?v=2"><script src=/old.js></script><script'
                .' type="application/ld+json">{"author":{"name":"Ilse"}}</script>',
        );
        $new = $read(
            '<meta name=robots content=noindex><link rel=stylesheet href="/a.css?v=3"><script'
                .' src="http://count.test/t.js"></script><script type="application/ld+json">{"author":{"name":"Tomas"}}</script>',
        );
        self::assertSame(
            [
                ['name' => 'robots', 'old' => 'index', 'new' => 'noindex'],
                ['name' => 'json-ld/author/name', 'old' => 'Ilse', 'new' => 'Tomas'],
            ],
            PartComparison::metadata($old, $new),
        );
        self::assertSame(
            [
                'added' => [['kind' => 'script', 'url' => 'http://count.test/t.js']],
                'removed' => [['kind' => 'script', 'url' => 'http://lantern.test/old.js']],
            ],
            PartComparison::parts($old, $new),
        );
    }

    /** @param list<array{int, int}> $blocks height and pattern */
    private static function page(array $blocks): PageRows
    {
        return PageRows::of([self::drawing($blocks)]);
    }

    /** @param list<array{int, int}> $blocks */
    private static function drawing(array $blocks, int $height = 0): string
    {
        $all = max($height, array_sum(array_column($blocks, 0)) + 20 * (\count($blocks) + 1));
        $picture = imagecreatetruecolor(256, max(1, $all));
        imagefill($picture, 0, 0, 0xFFFFFF);
        $y = 20;
        foreach ($blocks as [$tall, $seed]) {
            $chance = new \Random\Randomizer(new \Random\Engine\Mt19937($seed));
            for ($row = 0; $row < $tall; $row += 4) {
                imagefilledrectangle(
                    $picture, $chance->getInt(5, 60), $y + $row, $chance->getInt(120, 250), $y + $row + 2, 0x202020 * $chance->getInt(0, 3),
                );
            }
            $y += $tall + 20;
        }

        return self::encoded($picture, 'png');
    }

    /**
     * @return list<string>
     */
    private static function kinds(LookComparison $comparison): array
    {
        return array_map(static fn (LookRegion $region): string => $region->kind->value, $comparison->regions);
    }

    private static function scene(int $width, int $height, int $seed): \GdImage
    {
        $chance = new \Random\Randomizer(new \Random\Engine\Mt19937($seed));
        $picture = imagecreatetruecolor(max(1, $width), max(1, $height));
        for ($y = 0; $y < $height; ++$y) {
            imageline($picture, 0, $y, $width, $y, (int) (90 + 100 * $y / $height) * 0x010101);
        }
        for ($n = 0; $n < 14; ++$n) {
            imagefilledellipse(
                $picture, $chance->getInt(0, $width), $chance->getInt(0, $height), $chance->getInt(40, 140), $chance->getInt(30, 110),
                $chance->getInt(0, 0xFFFFFF),
            );
        }

        return $picture;
    }

    private static function scaled(\GdImage $picture, int $width, int $height): \GdImage
    {
        $scaled = imagescale($picture, $width, $height);
        self::assertNotFalse($scaled);

        return $scaled;
    }

    private static function cut(\GdImage $picture, int $x, int $y, int $width, int $height): \GdImage
    {
        $cut = imagecrop($picture, ['x' => $x, 'y' => $y, 'width' => $width, 'height' => $height]);
        self::assertNotFalse($cut);

        return $cut;
    }

    private static function encoded(\GdImage $picture, string $format): string
    {
        ob_start();
        'jpeg' === $format ? imagejpeg($picture, null, 70) : imagepng($picture);

        return (string) ob_get_clean();
    }
}
