<?php

declare(strict_types=1);

namespace Ypomna\App\Store\Value;

use Ypomna\Core\Mhtml\MhtmlReader;
use Ypomna\Core\Warc\WarcReader;

/** What a file is that is to be taken in, told from its content, never from its name. */
enum FileKind: string
{
    case Warc = 'warc';
    case Mhtml = 'mhtml';
    case Mail = 'mail';
    case Html = 'html';
    case Pdf = 'pdf';
    case Picture = 'picture';

    /** @return self|null null if it is nothing that is taken in */
    public static function of(string $path): ?self
    {
        $head = (string) file_get_contents($path, false, null, 0, 4_096);
        $type = self::mediaType($path);

        return match (true) {
            1 === preg_match('#^(?:\xEF\xBB\xBF)?\s*WARC/\d|^\x1f\x8b#', $head) => self::Warc,
            str_starts_with($head, '%PDF-') => self::Pdf,
            \in_array(
                $type,
                ['image/png', 'image/jpeg', 'image/gif', 'image/webp', 'image/avif', 'image/tiff', 'image/bmp', 'image/svg+xml'],
                true,
            ) => self::Picture,
            1 === preg_match(
                '/^(?:\xEF\xBB\xBF)?\s*(?:<\?xml[^>]*>\s*)?(?:<!--.*?-->\s*)*<(?:!doctype\s+html|html|head|body|title|meta)\b/is', $head,
            ) => self::Html,
            1 === preg_match('/^(?:From [^\n]*\n|\s)*[!-9;-~]+[ \t]*:/', $head) => self::message($path),
            null !== WarcReader::open($path)->records()->current() => self::Warc,
            default => null,
        };
    }

    public static function mediaType(string $path): string
    {
        $type = (new \finfo(\FILEINFO_MIME_TYPE))->file($path);
        // Style sheets and scripts look like any text.
        $byName = [
            'css' => 'text/css', 'js' => 'text/javascript', 'svg' => 'image/svg+xml', 'woff2' => 'font/woff2', 'woff' => 'font/woff',
        ][strtolower(pathinfo($path, \PATHINFO_EXTENSION))]
            ?? null;

        return false === $type
            || (null !== $byName && 1 === preg_match('#^(?:text/|application/(?:octet-stream|javascript|font)|image/svg)#', $type))
            ? $byName ?? 'application/octet-stream'
            : $type;
    }

    /** How the file is named in the store. */
    public function extension(): string
    {
        return match ($this) {
            self::Warc => 'warc',
            self::Mhtml => 'mhtml',
            self::Mail => 'eml',
            self::Html => 'html',
            self::Pdf => 'pdf',
            self::Picture => 'picture',
        };
    }

    private static function message(string $path): ?self
    {
        $archive = MhtmlReader::read($path);

        return match (true) {
            $archive->isMhtml => self::Mhtml,
            [] !== $archive->parts
                && (null !== $archive->message?->headers->fields->get('From')
                    || null !== $archive->message?->headers->fields->get('MIME-Version')) => self::Mail,
            default => null,
        };
    }
}
