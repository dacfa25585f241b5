<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue;

use Symfony\Component\Process\Exception\ProcessFailedException;
use Symfony\Component\Process\Exception\ProcessTimedOutException;
use Symfony\Component\Process\Process;

/** The text of a PDF file, page by page (poppler), with limits: the file is somebody else's. */
final class PdfText
{
    private const SECONDS = 20;
    private const MOST_PAGES = 2_000;
    private const LARGEST = 134_217_728;

    /**
     * @param iterable<string> $pieces of the file
     *
     * @return list<string> empty if there is no text, or the file cannot be read
     */
    public static function pages(iterable $pieces): array
    {
        $path = tempnam(sys_get_temp_dir(), 'ypomna-pdf-');
        if (false === $path) {
            return [];
        }
        try {
            $bytes = 0;
            foreach ($pieces as $piece) {
                $bytes += \strlen($piece);
                if ($bytes > self::LARGEST || false === file_put_contents($path, $piece, \FILE_APPEND)) {
                    return [];
                }
            }
            $process = new Process(
                [
                    'prlimit', '--as=1073741824', '--cpu='.self::SECONDS, 'pdftotext', '-q', '-enc', 'UTF-8', '-l',
                    (string) self::MOST_PAGES, $path, '-',
                ],
                null,
                null,
                null,
                self::SECONDS,
            );
            $process->mustRun();

            return explode("\f", rtrim($process->getOutput(), "\f"));
        } catch (ProcessFailedException|ProcessTimedOutException) {
            return [];
        } finally {
            @unlink($path);
        }
    }
}
