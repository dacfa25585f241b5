<?php

declare(strict_types=1);

namespace Ypomna\Core\Compare;

/**
 * What a picture shows, in a few bytes: pictures that were saved anew, made smaller or cut are told from others. By the sign of
 * the differences between neighbours in a small grey copy (difference hash), and by laying one copy over parts of the other.
 */
final readonly class PictureHash
{
    private const SIDE = 32;
    private const MOST_PIXELS = 40_000_000;
    /** Of 64 signs, so many may differ in the same picture saved anew. */
    private const NEAR = 8;
    private const CUT = 0.92;

    /** @param list<int> $grey 32 by 32, 0 to 255 */
    private function __construct(private array $grey, public int $width, public int $height)
    {
    }

    /** @return self|null null of what is no raster that can be read here, or is too large */
    public static function of(string $bytes): ?self
    {
        $size = @getimagesizefromstring($bytes);
        if (false === $size || $size[0] < 1 || $size[1] < 1 || $size[0] * $size[1] > self::MOST_PIXELS) {
            return null;
        }
        $picture = @imagecreatefromstring($bytes);
        if (false === $picture) {
            return null;
        }
        $small = imagecreatetruecolor(self::SIDE, self::SIDE);
        // What is transparent stands on white.
        imagefill($small, 0, 0, 0xFFFFFF);
        imagecopyresampled($small, $picture, 0, 0, 0, 0, self::SIDE, self::SIDE, $size[0], $size[1]);
        $grey = [];
        for ($y = 0; $y < self::SIDE; ++$y) {
            for ($x = 0; $x < self::SIDE; ++$x) {
                $colour = (int) imagecolorat($small, $x, $y);
                $grey[] = intdiv(299 * ($colour >> 16 & 255) + 587 * ($colour >> 8 & 255) + 114 * ($colour & 255), 1_000);
            }
        }

        return new self($grey, $size[0], $size[1]);
    }

    public function relation(self $later): PictureRelation
    {
        $sameShape = abs($this->width / $this->height - $later->width / $later->height) < 0.03 * $this->width / $this->height;
        if ($sameShape && $this->distance($later) <= self::NEAR) {
            return $this->width === $later->width && $this->height === $later->height
                ? PictureRelation::SavedAnew
                : PictureRelation::Resized;
        }
        if ($this->holds($later) || $later->holds($this)) {
            return PictureRelation::Cut;
        }

        return PictureRelation::Other;
    }

    private function distance(self $other): int
    {
        $distance = 0;
        foreach ($this->signs() as $n => $sign) {
            $distance += $sign === $other->signs()[$n] ? 0 : 1;
        }

        return $distance;
    }

    /**
     * @return list<bool>
     */
    private function signs(): array
    {
        $signs = [];
        for ($y = 0; $y < 8; ++$y) {
            for ($x = 0; $x < 8; ++$x) {
                $signs[] = $this->mean($x * 3.5, $y * 4, 4) > $this->mean($x * 3.5 + 3.5, $y * 4, 4) + 1;
            }
        }

        return $signs;
    }

    private function mean(float $left, float $top, int $side): float
    {
        $sum = 0;
        for ($y = 0; $y < $side; ++$y) {
            for ($x = 0; $x < $side; ++$x) {
                $sum += $this->grey[min(self::SIDE - 1, (int) $top + $y) * self::SIDE + min(self::SIDE - 1, (int) $left + $x)];
            }
        }

        return $sum / ($side * $side);
    }

    /** Whether the other one is a part of this picture: at some scale and place both correlate. */
    private function holds(self $part): bool
    {
        for ($scaleX = 0.5; $scaleX < 0.96; $scaleX += 0.05) {
            // The part keeps its proportions: its height follows from its width.
            $scaleY = $scaleX * $this->width / $this->height * $part->height / $part->width;
            if ($scaleY > 1.0 || $scaleY < 0.4) {
                continue;
            }
            [$wide, $tall] = [(int) round($scaleX * self::SIDE), (int) round($scaleY * self::SIDE)];
            for ($top = 0; $top <= self::SIDE - $tall; ++$top) {
                for ($left = 0; $left <= self::SIDE - $wide; ++$left) {
                    if ($this->correlation($part, $left, $top, $wide, $tall) >= self::CUT) {
                        return true;
                    }
                }
            }
        }

        return false;
    }

    private function correlation(self $part, int $left, int $top, int $wide, int $tall): float
    {
        $n = 0;
        $a = $b = $aa = $bb = $ab = 0.0;
        for ($y = 0; $y < $tall; $y += 2) {
            for ($x = 0; $x < $wide; $x += 2) {
                $here = $this->grey[($top + $y) * self::SIDE + $left + $x];
                $there = $part->grey[intdiv($y * self::SIDE, $tall) * self::SIDE + intdiv($x * self::SIDE, $wide)];
                $a += $here;
                $b += $there;
                $aa += $here * $here;
                $bb += $there * $there;
                $ab += $here * $there;
                ++$n;
            }
        }
        $spread = sqrt(max(0.0, $aa - $a * $a / $n)) * sqrt(max(0.0, $bb - $b * $b / $n));

        return $spread < 1.0 ? 0.0 : ($ab - $a * $b / $n) / $spread;
    }
}
