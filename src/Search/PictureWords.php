<?php

declare(strict_types=1);

namespace Ypomna\App\Search;

use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Symfony\Component\Process\Exception\ProcessFailedException;
use Symfony\Component\Process\Exception\ProcessTimedOutException;
use Symfony\Component\Process\Process;
use Ypomna\App\Search\Value\Means;
use Ypomna\App\Search\Value\Reading;
use Ypomna\Core\Search\PictureTable;

/** Words in pictures, as Tesseract reads them, with limits: the picture is somebody else's. */
final readonly class PictureWords
{
    public const LARGEST = 67_108_864;
    private const SECONDS = 90;
    private const MEMORY = 2_147_483_648;
    private const MOST_PIXELS = 60_000_000;
    private const LEAST_WIDTH = 100;
    private const LEAST_HEIGHT = 24;
    private const LEAST_PIXELS = 12_000;
    /** Letters of a screen are smaller than those of paper: a picture of so many pixels is looked at in twice its size. */
    private const SMALL = 2_500_000;
    private const TYPES = [
        \IMAGETYPE_PNG, \IMAGETYPE_JPEG, \IMAGETYPE_GIF, \IMAGETYPE_WEBP, \IMAGETYPE_BMP, \IMAGETYPE_TIFF_II, \IMAGETYPE_TIFF_MM,
    ];
    /** As Leptonica knows them, which reads them for Tesseract. */
    private const BEGINS = '/^(?:\x89PNG\r\n\x1A\n|\xFF\xD8\xFF|GIF8[79]a|RIFF.{4}WEBP|BM|II\x2A\x00|MM\x00\x2A)/s';
    /** ISO 639-1 as Tesseract names its languages. */
    private const NAMES = [
        'ar' => 'ara', 'bg' => 'bul', 'ca' => 'cat', 'cs' => 'ces', 'da' => 'dan', 'de' => 'deu', 'el' => 'ell', 'en' => 'eng',
        'es' => 'spa', 'et' => 'est', 'fa' => 'fas', 'fi' => 'fin', 'fr' => 'fra', 'he' => 'heb', 'hi' => 'hin', 'hr' => 'hrv',
        'hu' => 'hun', 'it' => 'ita', 'ja' => 'jpn', 'ko' => 'kor', 'lt' => 'lit', 'lv' => 'lav', 'nb' => 'nor', 'nl' => 'nld',
        'no' => 'nor', 'pl' => 'pol', 'pt' => 'por', 'ro' => 'ron', 'ru' => 'rus', 'sk' => 'slk', 'sl' => 'slv', 'sq' => 'sqi',
        'sr' => 'srp', 'sv' => 'swe', 'th' => 'tha', 'tr' => 'tur', 'uk' => 'ukr', 'vi' => 'vie', 'zh' => 'chi_sim',
    ];

    /** @param string $languages those in which pictures are read whose page tells no language, ISO 639-1, parted by blanks */
    public function __construct(#[Autowire('%env(PICTURE_LANGUAGES)%')] private string $languages)
    {
    }

    public function isThere(): bool
    {
        return [] !== self::installed();
    }

    /**
     * Whether a picture is large enough to hold words that are worth a reading. What only looks like one is none: Tesseract would take it
     * for a list of files to be read.
     */
    public static function isWorthIt(string $path): bool
    {
        $size = 1 === preg_match(self::BEGINS, (string) @file_get_contents($path, false, null, 0, 16)) ? @getimagesize($path) : false;

        return false !== $size && \in_array($size[2], self::TYPES, true) && $size[0] >= self::LEAST_WIDTH
            && $size[1] >= self::LEAST_HEIGHT && $size[0] * $size[1] >= self::LEAST_PIXELS;
    }

    /** @param string|null $language ISO 639-1, of what the picture stands in; null if it is not known */
    public function read(string $path, ?string $language): Reading
    {
        $size = @getimagesize($path);
        if (false !== $size && ($size[0] * $size[1] > self::MOST_PIXELS || filesize($path) > self::LARGEST)) {
            return new Reading(Means::Seen, [], 'too_large');
        }
        $large = false === $size || $size[0] * $size[1] > self::SMALL ? null : self::enlarged($path);
        try {
            return $this->told($large ?? $path, $language);
        } finally {
            if (null !== $large) {
                @unlink($large);
            }
        }
    }

    private function told(string $path, ?string $language): Reading
    {
        $process = new Process(
            [
                'prlimit', '--as='.self::MEMORY, '--cpu='.self::SECONDS, '--nofile=64', 'tesseract', $path, 'stdout',
                '-l', implode('+', $this->names($language)), '--psm', '3', 'tsv',
            ],
            sys_get_temp_dir(),
            ['OMP_THREAD_LIMIT' => '1', 'PATH' => '/usr/bin:/bin', 'HOME' => '/nonexistent'],
            null,
            2 * self::SECONDS,
        );
        try {
            $process->mustRun();
        } catch (ProcessTimedOutException) {
            return new Reading(Means::Seen, [], 'too_long');
        } catch (ProcessFailedException) {
            return new Reading(Means::Seen, [], $process->hasBeenSignaled() ? 'too_long' : 'damaged');
        }

        return new Reading(Means::Seen, PictureTable::paragraphs($process->getOutput()));
    }

    /** @return string|null path of a file; null if the picture is none that can be made larger */
    private static function enlarged(string $path): ?string
    {
        $picture = @imagecreatefromstring((string) file_get_contents($path));
        $larger = false === $picture ? false : imagescale($picture, 2 * imagesx($picture), 2 * imagesy($picture), \IMG_BICUBIC);
        if (false === $larger) {
            return null;
        }
        // What is transparent is paper.
        $paper = imagecreatetruecolor(imagesx($larger), imagesy($larger));
        imagefill($paper, 0, 0, 0xFFFFFF);
        imagecopy($paper, $larger, 0, 0, 0, 0, imagesx($larger), imagesy($larger));
        $to = tempnam(sys_get_temp_dir(), 'ypomna-picture-');
        if (false === $to) {
            return null;
        }

        return imagepng($paper, $to, 1) ? $to : null;
    }

    /** @return non-empty-list<string> */
    private function names(?string $language): array
    {
        $installed = self::installed();
        $own = self::NAMES[$language ?? ''] ?? null;
        $wanted = null !== $own && isset($installed[$own])
            ? [$own, 'eng']
            : array_map(static fn (string $one): string => self::NAMES[$one] ?? $one, explode(' ', trim($this->languages)));
        $names = array_values(array_unique(array_filter($wanted, static fn (string $one): bool => isset($installed[$one]))));

        return [] === $names ? ['eng'] : $names;
    }

    /** @return array<string, true> */
    private static function installed(): array
    {
        $files = glob('/usr/share/tesseract-ocr/*/tessdata/*.traineddata');
        $names = array_map(
            static fn (string $path): string => basename($path, '.traineddata'),
            false === $files ? [] : $files,
        );

        return array_fill_keys($names, true);
    }
}
