<?php

declare(strict_types=1);

namespace Ypomna\Core\Http;

/**
 * Which encoding the text of a page has, and that text in UTF-8: byte order mark, then the Content-Type field, then
 * what the page says in its first KiB, then what the bytes look like (HTML Living Standard, section 13.2.3.2).
 */
final class Charset
{
    private const SNIFFED_BYTES = 4096;

    /** Labels of the Encoding Standard that iconv and mbstring know under another name. */
    private const ALIASES = [
        'iso-8859-1' => 'windows-1252', 'latin1' => 'windows-1252', 'ascii' => 'windows-1252', 'us-ascii' => 'windows-1252',
        'iso-8859-9' => 'windows-1254', 'shift-jis' => 'cp932', 'shift_jis' => 'cp932', 'sjis' => 'cp932', 'x-sjis' => 'cp932',
        'windows-31j' => 'cp932', 'gb2312' => 'gb18030', 'gbk' => 'gb18030', 'ks_c_5601-1987' => 'cp949', 'euc-kr' => 'cp949',
        'utf8' => 'utf-8', 'unicode-1-1-utf-8' => 'utf-8', 'iso-8859-8-i' => 'iso-8859-8', 'tis-620' => 'cp874', 'windows-874' => 'cp874',
    ];

    /** @return string a label in lower case that iconv knows */
    public static function detect(string $bytes, ?string $contentType = null): string
    {
        $bom = match (true) {
            str_starts_with($bytes, "\xEF\xBB\xBF") => 'utf-8',
            str_starts_with($bytes, "\xFE\xFF") => 'utf-16be',
            str_starts_with($bytes, "\xFF\xFE") => 'utf-16le',
            default => null,
        };
        $head = substr($bytes, 0, self::SNIFFED_BYTES);
        $declared = $bom
            ?? self::labelIn('/charset\s*=\s*["\']?\s*([^\s"\';,]+)/i', (string) $contentType)
            ?? self::notUtf16(self::labelIn('/<meta[^>]+?charset\s*=\s*["\']?\s*([^\s"\'\/>;]+)/i', $head))
            ?? self::labelIn('/^\s*<\?xml[^>]+encoding\s*=\s*["\']([^"\']+)/i', $head);

        return $declared ?? self::guess($bytes);
    }

    public static function toUtf8(string $bytes, string $charset): string
    {
        $bytes = (string) preg_replace('/^\xEF\xBB\xBF/', '', $bytes);
        if ('utf-8' === $charset) {
            return mb_scrub($bytes, 'UTF-8');
        }
        $text = @iconv($charset, 'UTF-8//IGNORE', $bytes);
        if (false === $text) {
            $text = @mb_convert_encoding($bytes, 'UTF-8', 'windows-1252');
        }

        return mb_scrub((string) $text, 'UTF-8');
    }

    private static function labelIn(string $pattern, string $text): ?string
    {
        if (1 !== preg_match($pattern, $text, $m)) {
            return null;
        }
        $label = strtolower($m[1]);
        $label = self::ALIASES[$label] ?? $label;

        return 1 === preg_match('/^[a-z0-9_-]{2,24}$/', $label) && false !== @iconv($label, 'UTF-8', '') ? $label : null;
    }

    private static function notUtf16(?string $label): ?string
    {
        return null !== $label && str_starts_with($label, 'utf-16') ? 'utf-8' : $label;
    }

    private static function guess(string $bytes): string
    {
        // A cut in the middle of a character must not speak against UTF-8.
        $sample = mb_strcut(substr($bytes, 0, 262_144), 0, 262_140, 'UTF-8');
        if (mb_check_encoding($sample, 'UTF-8')) {
            return 'utf-8';
        }
        foreach (['cp932' => 'SJIS-win', 'euc-jp' => 'eucJP-win'] as $label => $name) {
            $text = mb_check_encoding($sample, $name) ? mb_convert_encoding($sample, 'UTF-8', $name) : '';
            if (1 === preg_match('/\p{Hiragana}{2}|\p{Katakana}{2}/u', (string) $text)) {
                return $label;
            }
        }

        return 'windows-1252';
    }
}
