<?php

declare(strict_types=1);

namespace Ypomna\Standin\Site;

/** Pictures of the stand-in web, drawn here so that nobody else's are needed. */
final class Art
{
    /** A ship on the sound under a sky of that hue; the seed places hills and clouds. */
    public static function ship(int $width, int $height, string $hull, string $name, int $seed): string
    {
        mt_srand($seed);
        $image = imagecreatetruecolor(max(1, $width), max(1, $height));
        $horizon = (int) ($height * 0.62);
        for ($y = 0; $y < $height; ++$y) {
            $t = $y / $height;
            $colour = $y < $horizon
                ? imagecolorallocate($image, self::tone(178 + 40 * $t), self::tone(196 + 24 * $t), 212)
                : imagecolorallocate($image, self::tone(92 - 40 * $t), self::tone(122 - 40 * $t), self::tone(138 - 30 * $t));
            imageline($image, 0, $y, $width, $y, (int) $colour);
        }
        for ($i = 0; $i < 5; ++$i) {
            imagefilledellipse(
                $image,
                mt_rand(0, $width),
                $horizon,
                mt_rand((int) ($width / 4), (int) ($width / 2)),
                mt_rand((int) ($height / 8), (int) ($height / 3)),
                (int) imagecolorallocate($image, 112 + 6 * $i, 124 + 5 * $i, 112),
            );
        }
        imagefilledrectangle($image, 0, $horizon, $width, $horizon + 2, (int) imagecolorallocate($image, 92, 118, 132));
        $rgb = hexdec(substr($hull, 1));
        $dark = (int) imagecolorallocate($image, self::tone($rgb >> 16 & 255), self::tone($rgb >> 8 & 255), self::tone($rgb & 255));
        $white = (int) imagecolorallocate($image, 244, 242, 236);
        $left = (int) ($width * 0.2);
        $top = (int) ($height * 0.5);
        $long = (int) ($width * 0.58);
        $unit = (int) ($height * 0.07);
        imagefilledpolygon(
            $image,
            [$left, $top + $unit, $left + $long, $top + $unit, $left + $long - $unit, $top + 3 * $unit, $left + $unit, $top + 3 * $unit],
            $dark,
        );
        imagefilledrectangle($image, $left + $unit, $top - $unit, $left + $long - 2 * $unit, $top + $unit, $white);
        imagefilledrectangle($image, $left + (int) ($long * 0.5), $top - 3 * $unit, $left + (int) ($long * 0.62), $top - $unit, $dark);
        for ($x = $left + 2 * $unit; $x < $left + $long - 3 * $unit; $x += $unit) {
            imagefilledrectangle($image, $x, $top - (int) ($unit / 2), $x + (int) ($unit / 2), $top, $dark);
        }
        imagestring($image, 3, $left + 2 * $unit, $top + $unit + 4, $name, $white);

        return self::png($image);
    }

    /** A gauge, as an old site has them: a plain bar. */
    public static function badge(string $text, string $fill): string
    {
        return '<svg xmlns="http://www.w3.org/2000/svg" width="180" height="44" viewBox="0 0 180 44"><rect width="180" height="44"'
            .' rx="4" fill="'
            .$fill.'"/>'

                .'<path d="M14 30q8-8 16 0t16 0" fill="none" stroke="#fff" stroke-width="3"/><text x="56" y="28"'
                    .' font-family="sans-serif" font-size="17" fill="#fff">'
                .htmlspecialchars($text).'</text></svg>';
    }

    /**
     * A PDF of one page with lines of text (ISO 32000-1, section 7.5).
     *
     * @param list<string> $lines plain ASCII
     */
    public static function pdf(array $lines): string
    {
        $text = "BT /F1 12 Tf 60 780 Td 18 TL\n";
        foreach ($lines as $line) {
            $text .= '('.addcslashes($line, '()\\').") Tj T*\n";
        }
        $text .= 'ET';
        $objects = [
            '<</Type/Catalog/Pages 2 0 R>>', '<</Type/Pages/Kids[3 0 R]/Count 1>>',
            '<</Type/Page/Parent 2 0 R/MediaBox[0 0 595 842]/Resources<</Font<</F1 4 0 R>>>>/Contents 5 0 R>>',
            '<</Type/Font/Subtype/Type1/BaseFont/Helvetica>>', '<</Length '.\strlen($text).">>\nstream\n".$text."\nendstream",
        ];
        $pdf = "%PDF-1.4\n";
        $table = "xref\n0 6\n0000000000 65535 f \n";
        foreach ($objects as $i => $object) {
            $table .= \sprintf("%010d 00000 n \n", \strlen($pdf));
            $pdf .= ($i + 1)." 0 obj\n".$object."\nendobj\n";
        }

        return $pdf.$table."trailer\n<</Size 6/Root 1 0 R>>\nstartxref\n".\strlen($pdf)."\n%%EOF\n";
    }

    /** @return int<0, 255> */
    private static function tone(float $value): int
    {
        return max(0, min(255, (int) $value));
    }

    private static function png(\GdImage $image): string
    {
        ob_start();
        imagepng($image, null, 9);

        return (string) ob_get_clean();
    }
}
