<?php

declare(strict_types=1);

namespace Ypomna\Core\Memento;

use Ypomna\Core\Split;

/**
 * Reads the value of Link headers (RFC 8288, appendix B.2) and documents of the type application/link-format (RFC 6690),
 * which have the same form. What cannot be read is passed over up to the next comma.
 */
final class LinkFormat
{
    private const QUOTED = '"((?:[^"\\\\]|\\\\.)*+)"';

    /**
     * @return \Generator<int, WebLink>
     */
    public static function read(string $text): \Generator
    {
        $at = 0;
        while ($at < \strlen($text)) {
            if (1 !== preg_match('/[\s,]*<([^>]*)>/A', $text, $m, 0, $at)) {
                // Not a link: on behind the next comma that stands in no quotation.
                preg_match('/(?:'.self::QUOTED.'|[^",]++|")*+(?:,|\z)/A', $text, $m, 0, $at);
                $at += max(1, \strlen($m[0] ?? ''));
                continue;
            }
            $at += \strlen($m[0]);
            $target = trim($m[1]);
            $attributes = [];
            while (1 === preg_match(
                '/\s*;\s*([^\s=;,"<>]*)\s*(?:=\s*(?:'.self::QUOTED.'|([^\s;,"]*)))?/A', $text, $m, \PREG_UNMATCHED_AS_NULL, $at,
            )) {
                $at += \strlen($m[0]);
                $value = isset($m[2]) ? (string) preg_replace('/\\\\(.)/s', '$1', $m[2]) : $m[3] ?? '';
                if ('' !== $m[1]) {
                    $attributes[strtolower($m[1])] ??= $value;
                }
            }
            yield new WebLink($target, Split::words(mb_scrub(strtolower($attributes['rel'] ?? ''))), $attributes);
        }
    }
}
