<?php

declare(strict_types=1);

namespace Ypomna\Core\Desk;

/** The piece of the earth that a map shows, in degrees: east and south are positive, as in a picture. */
final readonly class MapBox
{
    private const LEAST = 20.0;
    private const MARGIN = 0.25;
    private const WIDE = 2.0;

    public function __construct(public float $left, public float $top, public float $width, public float $height)
    {
    }

    /**
     * @param list<array{latitude: float, longitude: float, ...}> $places
     *
     * @return self twice as wide as high, with all of them and some margin; the whole earth if there are none
     */
    public static function around(array $places): self
    {
        if ([] === $places) {
            return new self(-180, -90, 360, 180);
        }
        [$east, $south] = [array_column($places, 'longitude'),
            array_map(static fn (float $one): float => -$one, array_column($places, 'latitude'))];
        $height = max(self::LEAST, (max($south) - min($south)) * (1 + self::MARGIN),
            (max($east) - min($east)) * (1 + self::MARGIN) / self::WIDE);
        $height = min(180.0, $height);
        $width = $height * self::WIDE;
        $left = (max($east) + min($east) - $width) / 2;
        $top = (max($south) + min($south) - $height) / 2;

        return new self(max(-180.0, min(180 - $width, $left)), max(-90.0, min(90 - $height, $top)), $width, $height);
    }
}
