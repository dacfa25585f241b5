<?php

declare(strict_types=1);

namespace Ypomna\App\Search;

use Symfony\Component\Filesystem\Filesystem;
use Symfony\Component\Process\Exception\ProcessFailedException;
use Symfony\Component\Process\Exception\ProcessTimedOutException;
use Symfony\Component\Process\Process;
use Ypomna\App\Catalogue\PdfText;
use Ypomna\App\Search\Value\Means;
use Ypomna\App\Search\Value\Reading;
use Ypomna\Core\Mhtml\MailText;
use Ypomna\Core\Mhtml\MhtmlReader;
use Ypomna\Core\Page\Document;
use Ypomna\Core\Search\Writing;

/** What words a file has: as they stand in it, else as a machine reads or hears them. */
final readonly class FileWords
{
    /** A page of a PDF with fewer letters is looked at as a picture. */
    private const THIN = 40;
    /** Pages of one PDF that are looked at so. */
    private const MOST_PAGES = 300;
    private const SECONDS = 60;
    private const LARGEST_MAIL = 104_857_600;
    /** What pandoc reads, by type. */
    private const OFFICE = [
        'application/vnd.openxmlformats-officedocument.wordprocessingml.document' => 'docx',
        'application/vnd.oasis.opendocument.text' => 'odt', 'application/epub+zip' => 'epub', 'application/rtf' => 'rtf',
    ];

    public function __construct(private PictureWords $pictures, private SpokenWords $spoken)
    {
    }

    /** Whether such a file may have words. */
    public static function mayHave(string $type): bool
    {
        return 1 === preg_match('#^(?:image/(?!svg)|audio/|video/|text/|message/rfc822|application/pdf)#i', $type)
            || isset(self::OFFICE[strtolower($type)]);
    }

    /**
     * @param string $type its media type; of a PDF, pages that are pictures are read by themselves
     * @param string|null $language of what it belongs to, ISO 639-1
     *
     * @return Reading|null null where it takes a machine that is not here
     */
    public function of(string $path, string $type, ?string $language): ?Reading
    {
        $type = strtolower(trim(explode(';', $type)[0]));

        return match (true) {
            str_starts_with($type, 'image/') => $this->ofPicture($path, $language),
            str_starts_with($type, 'audio/'),
            str_starts_with($type, 'video/') => $this->spoken->isThere() ? $this->spoken->heard($path) : null,
            'application/pdf' === $type => self::written(Document::fromPages(self::pages($path))),
            'message/rfc822' === $type => self::ofMail($path),
            'text/html' === $type => self::written(Document::fromHtml(self::beginning($path), $type)),
            'text/csv' === $type => self::written(Document::fromCsv(self::beginning($path), $type)),
            str_starts_with($type, 'text/') => self::written(Document::fromText(self::beginning($path))),
            isset(self::OFFICE[$type]) => self::ofOffice($path, self::OFFICE[$type]),
            default => new Reading(Means::Written, []),
        };
    }

    private function ofPicture(string $path, ?string $language): ?Reading
    {
        if (!PictureWords::isWorthIt($path)) {
            return new Reading(Means::Seen, [], false === @getimagesize($path) ? 'damaged' : '');
        }

        return $this->pictures->isThere() ? $this->pictures->read($path, $language) : null;
    }

    /** Of a PDF, the pages that are pictures. */
    public function ofPicturePages(string $path, ?string $language): ?Reading
    {
        if (!$this->pictures->isThere()) {
            return null;
        }
        $pages = self::pages($path);
        $paragraphs = [];
        $seen = 0;
        $count = max(\count($pages), self::countPages($path));
        for ($n = 1; $n <= $count; ++$n) {
            if (mb_strlen(trim($pages[$n - 1] ?? '')) < self::THIN && ++$seen <= self::MOST_PAGES) {
                array_push($paragraphs, ...$this->ofPage($path, $n, $language));
            }
        }

        return new Reading(Means::Seen, $paragraphs, $seen > self::MOST_PAGES ? 'too_long' : '');
    }

    /** @return list<string> what is written in a PDF, page by page */
    private static function pages(string $path): array
    {
        $file = fopen($path, 'r');

        return false === $file ? [] : PdfText::pages(self::pieces($file));
    }

    /** @return list<string> */
    private function ofPage(string $path, int $page, ?string $language): array
    {
        $folder = sys_get_temp_dir().'/ypomna-page-'.bin2hex(random_bytes(6));
        mkdir($folder, 0o700);
        try {
            $process = new Process([
                'prlimit', '--as=1073741824', '--cpu='.self::SECONDS, '--fsize=134217728', 'pdftoppm', '-png', '-gray', '-r', '200', '-f',
                (string) $page, '-l', (string) $page, '-scale-to', '3000', $path, $folder.'/p',
            ], null, null, null, self::SECONDS);
            $process->mustRun();
            $pictures = glob($folder.'/*.png');
            $picture = false === $pictures ? null : $pictures[0] ?? null;

            return null === $picture ? [] : $this->pictures->read($picture, $language)->paragraphs;
        } catch (ProcessFailedException|ProcessTimedOutException) {
            return [];
        } finally {
            (new Filesystem())->remove($folder);
        }
    }

    /** Pages of a PDF of which nothing is written count as well. */
    private static function countPages(string $path): int
    {
        try {
            $process = new Process(['prlimit', '--as=1073741824', '--cpu=10', 'pdfinfo', $path], null, null, null, 10);
            $process->mustRun();
        } catch (ProcessFailedException|ProcessTimedOutException) {
            return 0;
        }

        return 1 === preg_match('/^Pages:\s+(\d{1,6})$/m', $process->getOutput(), $m) ? (int) $m[1] : 0;
    }

    private static function ofMail(string $path): Reading
    {
        if (filesize($path) > self::LARGEST_MAIL) {
            return new Reading(Means::Written, [], 'too_large');
        }
        $paragraphs = [];
        foreach (MailText::of(MhtmlReader::read($path), Document::MAX_BYTES) as [$type, $text]) {
            $document = 'text/html' === $type ? Document::fromHtml($text, 'text/html; charset=utf-8') : Document::fromText($text);
            $paragraphs = [...$paragraphs, ...self::written($document)->paragraphs];
        }

        return new Reading(Means::Written, $paragraphs);
    }

    private static function ofOffice(string $path, string $format): Reading
    {
        $process = new Process(
            [
                'prlimit', '--as=8589934592', '--cpu='.self::SECONDS, 'pandoc', '+RTS', '-M512m', '-RTS', '--sandbox', '-f', $format, '-t',
                'plain', '--wrap=none', $path,
            ],
            sys_get_temp_dir(),
            ['PATH' => '/usr/bin:/bin', 'HOME' => '/nonexistent', 'LANG' => 'C.UTF-8'],
            null,
            self::SECONDS,
        );
        try {
            $process->mustRun();
        } catch (ProcessTimedOutException) {
            return new Reading(Means::Written, [], 'too_long');
        } catch (ProcessFailedException) {
            return new Reading(Means::Written, [], 'damaged');
        }

        return self::written(Document::fromText(mb_strcut($process->getOutput(), 0, Document::MAX_BYTES)));
    }

    private static function written(Document $document): Reading
    {
        return new Reading(Means::Written, array_column(Writing::ofDocument($document)->pieces, 'text'));
    }

    private static function beginning(string $path): string
    {
        return (string) file_get_contents($path, false, null, 0, Document::MAX_BYTES);
    }

    /**
     * @param resource $file
     *
     * @return \Generator<int, string>
     */
    private static function pieces($file): \Generator
    {
        try {
            while (!feof($file)) {
                yield (string) fread($file, 65_536);
            }
        } finally {
            fclose($file);
        }
    }
}
