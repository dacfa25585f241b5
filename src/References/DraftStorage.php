<?php

declare(strict_types=1);

namespace Ypomna\App\References;

use Symfony\Component\Filesystem\Filesystem;
use Symfony\Component\Process\Exception\ProcessFailedException;
use Symfony\Component\Process\Exception\ProcessTimedOutException;
use Symfony\Component\Process\Process;
use Ypomna\App\Shared\DataFolder;
use Ypomna\Core\Citation\BibDraft;
use Ypomna\Core\Citation\CslDraft;
use Ypomna\Core\Citation\CsvDraft;
use Ypomna\Core\Citation\DocxDraft;
use Ypomna\Core\Citation\Draft;
use Ypomna\Core\Citation\DraftFormat;
use Ypomna\Core\Citation\HtmlDraft;
use Ypomna\Core\Citation\MarkdownDraft;
use Ypomna\Core\Citation\OdtDraft;
use Ypomna\Core\Citation\PdfDraft;
use Ypomna\Core\Citation\PlainDraft;
use Ypomna\Core\Citation\RisDraft;
use Ypomna\Core\Citation\UnreadableDraft;
use Ypomna\Core\Http\Charset;

/** Documents that were handed in: kept as they came, opened with limits. */
final readonly class DraftStorage
{
    public const LARGEST = 67_108_864;
    /** Of formats that are text, and are held in memory. */
    private const LARGEST_TEXT = 8_388_608;
    private const SECONDS = 30;
    private const PAGES = 3_000;

    public function __construct(private DataFolder $folder)
    {
    }

    public function path(string $code): string
    {
        return $this->folder->documents().'/'.$code;
    }

    /** Takes a file over as it is. */
    public function keep(string $from, string $code): void
    {
        $files = new Filesystem();
        $files->mkdir($this->folder->documents(), 0o700);
        $files->copy($from, $this->path($code));
    }

    public function remove(string $code): void
    {
        (new Filesystem())->remove($this->path($code));
    }

    /** @throws UnreadableDraft */
    public function open(string $path, DraftFormat $format): Draft
    {
        return match ($format) {
            DraftFormat::Docx => new DocxDraft($path),
            DraftFormat::Odt => new OdtDraft($path),
            DraftFormat::Pdf => new PdfDraft($this->linesOfPdf($path)),
            DraftFormat::Markdown => new MarkdownDraft(self::text($path)),
            DraftFormat::Html => new HtmlDraft(self::text($path, 2 * self::LARGEST_TEXT)),
            DraftFormat::BibTex => new BibDraft(self::text($path)),
            DraftFormat::Ris => new RisDraft(self::text($path)),
            DraftFormat::Csl => new CslDraft(self::text($path)),
            DraftFormat::Csv => new CsvDraft(self::text($path)),
            DraftFormat::Plain => new PlainDraft(self::text($path)),
        };
    }

    /**
     * @param int<1, max> $most
     *
     * @throws UnreadableDraft
     */
    private static function text(string $path, int $most = self::LARGEST_TEXT): string
    {
        $bytes = (string) file_get_contents($path, false, null, 0, $most + 1);
        if (\strlen($bytes) > $most) {
            throw new UnreadableDraft(\sprintf('The text is larger than %d MB. Hand in its parts one by one.', intdiv($most, 1_048_576)));
        }
        if (str_contains(substr($bytes, 0, 4_000), "\0") && 1 !== preg_match('/^(?:\xFF\xFE|\xFE\xFF)/', $bytes)) {
            throw new UnreadableDraft(
                'This is neither text nor a document of a kind that is read here: Markdown, HTML, DOCX, ODT, PDF, BibTeX, RIS,'
                    .' CSL-JSON, CSV.',
            );
        }

        return mb_check_encoding($bytes, 'UTF-8') ? $bytes : mb_scrub(Charset::text($bytes, 'text/plain'));
    }

    /** @throws UnreadableDraft */
    private function linesOfPdf(string $path): string
    {
        $folder = $this->folder->newWork('pdf');
        $files = new Filesystem();
        $files->mkdir($folder, 0o700);
        try {
            $process = new Process(
                [
                    'prlimit', '--as=1073741824', '--cpu='.self::SECONDS, '--fsize='.self::LARGEST, 'pdftohtml', '-xml', '-i', '-q',
                    '-nodrm', '-enc', 'UTF-8', '-l', (string) self::PAGES, $path, $folder.'/out.xml',
                ],
                $folder,
                ['PATH' => '/usr/bin:/bin', 'HOME' => $folder],
                null,
                self::SECONDS,
            );
            $process->mustRun();

            return self::text($folder.'/out.xml', 4 * self::LARGEST_TEXT);
        } catch (ProcessFailedException|ProcessTimedOutException) {
            throw new UnreadableDraft('The PDF file cannot be read: it is damaged, protected by a password, or takes too long.');
        } finally {
            $files->remove($folder);
        }
    }
}
