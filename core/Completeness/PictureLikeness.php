<?php

declare(strict_types=1);

namespace Ypomna\Core\Completeness;

/**
 * How alike two pictures of a page are: the share of its area that looks the same. Both are looked at a quarter of their
 * size, as an eye that does not count pixels.
 */
final class PictureLikeness
{
    private const SHRINK = 4;
    /** Difference of the three colours together that is none yet, of 765. */
    private const NOTICED = 60;

    /**
     * @param list<string> $one paths of PNG tiles, from the top on
     * @param list<string> $other the same
     * @param list<array{int, int, int, int}> $leftOut boxes of the whole page that are not looked at: left, top, right, bottom
     *
     * @return float 0 to 1
     */
    public static function of(array $one, array $other, array $leftOut = []): float
    {
        if ([] === $one || [] === $other) {
            return [] === $one && [] === $other ? 1.0 : 0.0;
        }
        $area = $alike = $top = 0;
        for ($n = 0; $n < max(\count($one), \count($other)); ++$n) {
            [$of, $same, $height] = self::tile(
                $one[$n] ?? null,
                $other[$n] ?? null,
                array_map(
                    static fn (array $box): array => [
                        intdiv($box[0], self::SHRINK),
                        intdiv($box[1] - $top, self::SHRINK),
                        intdiv($box[2], self::SHRINK) + 1,
                        intdiv($box[3] - $top, self::SHRINK) + 1,
                    ],
                    $leftOut,
                ),
            );
            $area += $of;
            $alike += $same;
            $top += $height;
        }

        return 0 === $area ? 0.0 : $alike / $area;
    }

    /**
     * @param list<array{int, int, int, int}> $leftOut boxes in points
     *
     * @return array{int, int, int} area, and how much of it is alike, in points; height of the tile in pixels
     */
    private static function tile(?string $one, ?string $other, array $leftOut): array
    {
        if (null !== $one && null !== $other && hash_file('xxh128', $one) === hash_file('xxh128', $other)) {
            $size = @getimagesize($one);
            $area = false === $size ? 1 : max(1, intdiv($size[0], self::SHRINK) * intdiv($size[1], self::SHRINK));

            return [$area, $area, false === $size ? 0 : $size[1]];
        }
        [$a, $b] = [self::small($one), self::small($other)];
        $width = max(null === $a ? 0 : imagesx($a), null === $b ? 0 : imagesx($b));
        $height = max(null === $a ? 0 : imagesy($a), null === $b ? 0 : imagesy($b));
        if (null === $a || null === $b) {
            return [max(1, $width * $height), 0, $height * self::SHRINK];
        }
        foreach ($leftOut as [$left, $upper, $right, $lower]) {
            // What moves by itself is painted over, in both.
            imagefilledrectangle($a, $left, $upper, $right, $lower, 0);
            imagefilledrectangle($b, $left, $upper, $right, $lower, 0);
        }
        $alike = 0;
        for ($y = min(imagesy($a), imagesy($b)) - 1; $y >= 0; --$y) {
            for ($x = min(imagesx($a), imagesx($b)) - 1; $x >= 0; --$x) {
                $p = imagecolorat($a, $x, $y);
                $q = imagecolorat($b, $x, $y);
                $alike += $p === $q
                    || abs(($p >> 16 & 255) - ($q >> 16 & 255))
                        + abs(($p >> 8 & 255) - ($q >> 8 & 255))
                        + abs(($p & 255) - ($q & 255)) <= self::NOTICED
                    ? 1
                    : 0;
            }
        }

        return [$width * $height, $alike, $height * self::SHRINK];
    }

    private static function small(?string $path): ?\GdImage
    {
        $picture = null === $path ? false : @imagecreatefrompng($path);
        if (false === $picture) {
            return null;
        }
        $small = imagecreatetruecolor(max(1, intdiv(imagesx($picture), self::SHRINK)), max(1, intdiv(imagesy($picture), self::SHRINK)));
        imagecopyresampled($small, $picture, 0, 0, 0, 0, imagesx($small), imagesy($small), imagesx($picture), imagesy($picture));

        return $small;
    }
}
