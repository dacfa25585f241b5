<?php

declare(strict_types=1);

namespace Ypomna\App\Exchange;

use Ypomna\App\Exchange\Entity\Arrival;
use Ypomna\App\Exchange\Value\SaidOfArrival;
use Ypomna\App\Store\Value\Witness;
use Ypomna\Core\Warc\WitnessStatement;

/** What was said of a copy from somebody's own browser, as it is written into the file that is made of it. */
final readonly class Witnesses
{
    /** Of a picture of a page, in bytes and pixels. */
    public const LARGEST = 67_108_864;
    private const MOST_PIXELS = 400_000_000;
    private const TYPES = ['image/png' => \IMAGETYPE_PNG, 'image/jpeg' => \IMAGETYPE_JPEG, 'image/webp' => \IMAGETYPE_WEBP];

    /**
     * @param string|null $picture path of a picture that was handed in by itself
     * @param string $folder where one that was said can be put
     *
     * @return Witness|null null if it is nobody's copy
     *
     * @throws UnusableFile
     */
    public function of(Arrival $arrival, ?string $picture, string $folder): ?Witness
    {
        $said = $arrival->said();
        if ('browser' !== $said->seenBy) {
            return null;
        }
        if (null === $picture && null !== $said->picture && str_starts_with($said->picture, 'data:')) {
            $picture = $folder.'/picture-of-the-page';
            file_put_contents($picture, self::bytes($said->picture) ?? '');
        }
        if (null !== $picture && !self::isPicture($picture)) {
            throw new UnusableFile('exchange.picture_is_none', ['file' => $arrival->name]);
        }

        return new Witness(new WitnessStatement(
            $arrival->person, $said->url, self::moment($said), $said->seen, $said->part, $said->missing, $said->fields,
        ), $picture);
    }

    /** @return string|null the picture of a `data:` address (RFC 2397); null if it is none */
    public static function bytes(string $data): ?string
    {
        $bytes = 1 === preg_match('~^data:image/(?:png|jpeg|webp);base64,([A-Za-z0-9+/=]+)$~D', $data, $m)
            ? base64_decode($m[1], true) : false;

        return false === $bytes || '' === $bytes ? null : $bytes;
    }

    /** Whether it is a picture of a form and a size that can be shown. */
    public static function isPicture(string $path): bool
    {
        $size = is_file($path) && filesize($path) <= self::LARGEST ? @getimagesize($path) : false;

        return false !== $size && \in_array($size[2], self::TYPES, true) && $size[0] > 0 && $size[1] > 0
            && $size[0] * $size[1] <= self::MOST_PIXELS;
    }

    private static function moment(SaidOfArrival $said): ?\DateTimeImmutable
    {
        return null === $said->capturedAt ? null : (new \DateTimeImmutable($said->capturedAt))->setTimezone(new \DateTimeZone('UTC'));
    }
}
