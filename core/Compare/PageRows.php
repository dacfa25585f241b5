<?php

declare(strict_types=1);

namespace Ypomna\Core\Compare;

/** The picture of a page as rows of grey, cut into the blocks that its layout leaves white space between. */
final class PageRows
{
    private const WIDE = 128;
    /** So many empty rows part two blocks, in pixels. */
    private const PARTS = 8;
    private const TALLEST = 40_000;

    /** @var list<string> a row of the picture each, 128 bytes */
    public array $rows = [];
    public int $width = 0;

    /**
     * @param iterable<string> $tiles pictures that stand below each other, in a raster format
     */
    public static function of(iterable $tiles): self
    {
        $page = new self();
        foreach ($tiles as $bytes) {
            $size = @getimagesizefromstring($bytes);
            $tile = false === $size || $size[0] * $size[1] > 60_000_000 ? false : @imagecreatefromstring($bytes);
            if (false === $tile || \count($page->rows) >= self::TALLEST) {
                break;
            }
            $page->width = max($page->width, imagesx($tile));
            $page->add($tile);
        }

        return $page;
    }

    private function add(\GdImage $tile): void
    {
        $height = min(imagesy($tile), self::TALLEST - \count($this->rows));
        $narrow = imagecreatetruecolor(self::WIDE, max(1, $height));
        imagecopyresampled($narrow, $tile, 0, 0, 0, 0, self::WIDE, $height, imagesx($tile), $height);
        for ($y = 0; $y < $height; ++$y) {
            $row = '';
            for ($x = 0; $x < self::WIDE; ++$x) {
                $colour = (int) imagecolorat($narrow, $x, $y);
                // In steps of eight: what the eye does not tell apart is the same.
                $row .= \chr(intdiv(2 * ($colour >> 16 & 255) + 5 * ($colour >> 8 & 255) + ($colour & 255), 8) & 0xF8);
            }
            $this->rows[] = $row;
        }
    }

    /**
     * @return list<array{int, int}> first row and number of rows of each block
     */
    public function blocks(): array
    {
        $blocks = [];
        $from = null;
        $empty = 0;
        foreach ($this->rows as $y => $row) {
            if ($row === str_repeat($row[0], self::WIDE)) {
                if (null !== $from && ++$empty >= self::PARTS) {
                    $blocks[] = [$from, $y + 1 - $empty - $from];
                    $from = null;
                }
                continue;
            }
            $from ??= $y;
            $empty = 0;
        }
        if (null !== $from) {
            $blocks[] = [$from, \count($this->rows) - $empty - $from];
        }

        return $blocks;
    }

    /** @param array{int, int} $block */
    public function key(array $block): string
    {
        return hash('xxh128', implode('', \array_slice($this->rows, $block[0], $block[1])));
    }

    /**
     * Between which columns two blocks differ, as a share of the width.
     *
     * @param array{int, int} $mine
     * @param array{int, int} $theirs
     *
     * @return array{float, float}
     */
    public function difference(array $mine, self $other, array $theirs): array
    {
        $left = self::WIDE;
        $right = 0;
        for ($y = 0, $rows = min($mine[1], $theirs[1]); $y < $rows; ++$y) {
            $differs = $this->rows[$mine[0] + $y] ^ $other->rows[$theirs[0] + $y];
            $first = strspn($differs, "\0");
            if ($first < self::WIDE) {
                $left = min($left, $first);
                $right = max($right, \strlen(rtrim($differs, "\0")));
            }
        }

        return $right > $left && $mine[1] === $theirs[1] ? [$left / self::WIDE, $right / self::WIDE] : [0.0, 1.0];
    }
}
