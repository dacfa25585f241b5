<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue;

use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Shared\DataFolder;
use Ypomna\App\Store\Store;
use Ypomna\Core\Warc\WarcError;

/** Small pictures of the upper part of pages. They are made when they are first asked for, and can be thrown away. */
final readonly class Thumbnails
{
    private const WIDTH = 240;
    private const HEIGHT = 150;
    private const LARGEST = 33_554_432;
    private const MOST_PIXELS = 20_000_000;

    public function __construct(private PagePictures $pictures, private Store $store, private DataFolder $folder)
    {
    }

    /** @return string|null path of a PNG file; null where there is no picture that can be read */
    public function of(Capture $capture): ?string
    {
        $path = $this->folder->thumbnails().'/'.substr($capture->code, 0, 2).'/'.$capture->code.'.png';
        if (is_file($path)) {
            return $path;
        }
        $offset = $this->pictures->offsets($capture)[0] ?? null;
        if (null === $offset) {
            return null;
        }
        try {
            $bytes = '';
            foreach ($this->store->record($capture->warcFile->path, $offset)->block() as $piece) {
                $bytes .= $piece;
                if (\strlen($bytes) > self::LARGEST) {
                    return null;
                }
            }
        } catch (WarcError) {
            return null;
        }
        // The picture may have come in somebody's file.
        $size = @getimagesizefromstring($bytes);
        if (false === $size || $size[0] < 1 || $size[0] * $size[1] > self::MOST_PIXELS) {
            return null;
        }
        $picture = @imagecreatefromstring($bytes);

        return false === $picture ? null : $this->write($picture, $size[0], $size[1], $path);
    }

    private function write(\GdImage $picture, int $width, int $height, string $path): ?string
    {
        $small = imagecreatetruecolor(self::WIDTH, self::HEIGHT);
        $white = imagecolorallocate($small, 255, 255, 255);
        imagefill($small, 0, 0, false === $white ? 0 : $white);
        $part = min($height, (int) round($width * self::HEIGHT / self::WIDTH));
        imagecopyresampled($small, $picture, 0, 0, 0, 0, self::WIDTH, max(1, (int) round($part * self::WIDTH / $width)), $width, $part);
        @mkdir(\dirname($path), 0o700, true);
        $temporary = $path.'.'.getmypid();

        return imagepng($small, $temporary, 6) && rename($temporary, $path) ? $path : null;
    }
}
