<?php

declare(strict_types=1);

namespace Ypomna\Core\Page;

use Ypomna\Core\Address\Url;
use Ypomna\Core\Http\Charset;

/** A page that sends its reader on by itself (HTML Living Standard, section 4.2.5.3). */
final class Refresh
{
    private const BEGINNING = 65_536;

    /**
     * @param string $bytes of any encoding
     * @param int $most seconds that a reader would wait
     *
     * @return Url|null null if it does not, or to itself, or to what is no address of the web
     */
    public static function target(string $bytes, ?string $contentType, Url $url, int $most): ?Url
    {
        $head = substr($bytes, 0, self::BEGINNING);
        $html = (string) preg_replace(
            '~<!--.*?-->|<(script|style|noscript|template)\b[^<>]*+>.*?</\1\s*>~is', '', Charset::text($head, $contentType),
        );
        if (1 !== preg_match(
            '~<meta\b(?=[^<>]*\bhttp-equiv\s*=\s*["\']?refresh\b)[^<>]*?\bcontent\s*=\s*(?:"([^"]*)"|\'([^\']*)\')~i', $html, $m,
        )) {
            return null;
        }

        return self::field(html_entity_decode(substr($m[1].($m[2] ?? ''), 0, 4_096), \ENT_QUOTES | \ENT_HTML5, 'UTF-8'), $url, $most);
    }

    /** The same from a field of the answer's head, which browsers read in this way, too. */
    public static function field(string $value, Url $url, int $most): ?Url
    {
        if (1 !== preg_match('/^\s*(\d{1,3})(?:\.\d*)?\s*[;,]\s*(?:url\s*=\s*)?["\']?(.+?)["\']?\s*$/is', substr($value, 0, 4_096), $to)
            || (int) $to[1] > $most) {
            return null;
        }
        $next = Url::tryParse($to[2], $url);

        return null !== $next && $next->isWeb() && (string) $next->withoutFragment() !== (string) $url ? $next->withoutFragment() : null;
    }
}
