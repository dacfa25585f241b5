<?php

declare(strict_types=1);

namespace Ypomna\Core\Http;

/** What an answer is that does not say so, from its first bytes (MIME Sniffing Standard, sections 6 and 7.1). */
final class MimeSniffing
{
    /** So many bytes tell it. */
    public const BYTES = 1_445;

    private const HTML = '~^[\t\n\f\r ]*+<(?:!doctype html|html|head|script|iframe|h1|div|font|table|a|style|title|b|body|br|p|!--)(?:['
        .' >]|(?<=!--))~i';
    private const XML = '~^[\t\n\f\r ]*+<\?xml~';
    private const MARKED = "~^(?:\xFE\xFF..|\xFF\xFE..|\xEF\xBB\xBF.)~s";
    private const BINARY = '~[\x00-\x08\x0B\x0E-\x1A\x1C-\x1F]~';
    private const PATTERNS = [
        '%PDF-' => 'application/pdf', '%!PS-Adobe-' => 'application/postscript', 'GIF87a' => 'image/gif', 'GIF89a' => 'image/gif',
        "\x89PNG\r\n\x1A\n" => 'image/png', "\xFF\xD8\xFF" => 'image/jpeg', "\0\0\x01\0" => 'image/x-icon', 'BM' => 'image/bmp',
        "\x1F\x8B\x08" => 'application/x-gzip', "PK\x03\x04" => 'application/zip', 'OggS' => 'application/ogg', 'ID3' => 'audio/mpeg',
        'wOFF' => 'font/woff', 'wOF2' => 'font/woff2', 'OTTO' => 'font/otf', "\0\x01\0\0" => 'font/ttf', "\x1A\x45\xDF\xA3" => 'video/webm',
    ];

    /** @param string $bytes the beginning of a body, its codings taken off */
    public static function of(string $bytes): string
    {
        $bytes = substr($bytes, 0, self::BYTES);
        if (1 === preg_match(self::HTML, $bytes)) {
            return 'text/html';
        }
        if (1 === preg_match(self::XML, $bytes)) {
            return 'text/xml';
        }
        foreach (self::PATTERNS as $pattern => $mime) {
            if (str_starts_with($bytes, $pattern)) {
                return $mime;
            }
        }

        return match (true) {
            1 === preg_match('~^RIFF....WEBPVP~s', $bytes) => 'image/webp',
            1 === preg_match('~^RIFF....WAVE~s', $bytes) => 'audio/wave',
            1 === preg_match('~^....ftypmp4~s', $bytes) => 'video/mp4',
            1 === preg_match(self::MARKED, $bytes), 1 !== preg_match(self::BINARY, $bytes) => 'text/plain',
            default => 'application/octet-stream',
        };
    }
}
