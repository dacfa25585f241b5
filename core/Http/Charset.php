<?php

declare(strict_types=1);

namespace Ypomna\Core\Http;

use Ypomna\Core\Http\Encoding\DeclaredEncoding;
use Ypomna\Core\Http\Encoding\Decoder;
use Ypomna\Core\Http\Encoding\Labels;
use Ypomna\Core\Http\Encoding\Undeclared;

/**
 * Which encoding a text has, and that text in UTF-8: byte order mark, then the Content-Type field, then what the document says of itself,
 * then what the bytes look like (HTML Standard, section 13.2.3; CSS Syntax, section 3.2; RFC 7303 for XML).
 */
final class Charset
{
    private const MARKS = ["\xEF\xBB\xBF" => 'utf-8', "\xFE\xFF" => 'utf-16be', "\xFF\xFE" => 'utf-16le'];

    /** The bytes as valid UTF-8, without a byte order mark. */
    public static function text(string $bytes, ?string $contentType = null): string
    {
        return self::toUtf8($bytes, self::detect($bytes, $contentType));
    }

    /** @return string the name of an encoding in lower case, as the Encoding Standard has it */
    public static function detect(string $bytes, ?string $contentType = null): string
    {
        foreach (self::MARKS as $mark => $encoding) {
            if (str_starts_with($bytes, $mark)) {
                return $encoding;
            }
        }
        $type = strtolower(trim(explode(';', (string) $contentType, 2)[0]));

        return self::declared((string) $contentType) ?? match (true) {
            1 === preg_match('~[/+]xml$~', $type) => DeclaredEncoding::inXml($bytes) ?? 'utf-8',
            'text/css' === $type => DeclaredEncoding::inStyle($bytes) ?? Undeclared::guess($bytes),
            '' === $type, str_contains($type, 'html') => DeclaredEncoding::inHtml($bytes) ?? Undeclared::guess($bytes),
            default => Undeclared::guess($bytes),
        };
    }

    /** @param string $charset a label of the Encoding Standard; with another one the bytes are taken for UTF-8 */
    public static function toUtf8(string $bytes, string $charset): string
    {
        return Decoder::decode($bytes, Labels::encoding($charset) ?? 'utf-8');
    }

    /** @return string|null what the parameter "charset" says, the first of several (MIME Sniffing Standard, section 4.4) */
    private static function declared(string $contentType): ?string
    {
        $rest = strstr($contentType, ';');
        while (false !== $rest
            && 1 === preg_match('~^;[ \t\r\n]*+([^;=]*+)(?:=("(?:[^"\\\\]|\\\\.)*+"?[^;]*+|[^;]*+))?~s', $rest, $parameter)) {
            if ('charset' === strtolower($parameter[1])) {
                $value = $parameter[2] ?? '';
                $value = str_starts_with($value, '"')
                    ? stripslashes((string) preg_replace('~^"((?:[^"\\\\]|\\\\.)*+).*$~s', '$1', $value))
                    : $value;

                return Labels::encoding($value);
            }
            $rest = strstr(substr($rest, \strlen($parameter[0])), ';');
        }

        return null;
    }
}
