<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue;

use Symfony\Component\Process\Exception\ProcessFailedException;
use Symfony\Component\Process\Exception\ProcessTimedOutException;
use Symfony\Component\Process\Process;

/** The text of a PDF file, page by page (poppler), with limits: the file is somebody else's. */
final class PdfText
{
    private const SECONDS = 60;
    private const MOST_PAGES = 10_000;
    /** Of text that is taken. */
    private const MOST_TEXT = 33_554_432;
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
            $text = '';
            try {
                $process->mustRun(static function (string $type, string $piece) use (&$text, $process): void {
                    if (Process::OUT === $type) {
                        $text .= $piece;
                        $process->clearOutput();
                        if (\strlen($text) > self::MOST_TEXT) {
                            $process->stop(0);
                        }
                    }
                });
            } catch (ProcessFailedException|ProcessTimedOutException) {
                // What was read until then is read; of a damaged file that may be nothing.
            }

            return '' === $text ? [] : explode("\f", rtrim($text, "\f"));
        } finally {
            @unlink($path);
        }
    }
}
