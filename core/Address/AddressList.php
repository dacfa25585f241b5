<?php

declare(strict_types=1);

namespace Ypomna\Core\Address;

use Ypomna\Core\Split;

/**
 * The addresses in a text, in a table with commas or semicolons (RFC 4180), or in the links of an HTML document, such as the
 * bookmarks file that browsers write.
 */
final readonly class AddressList
{
    public const MOST = 2_000;
    private const MAX_BYTES = 16_777_216;
    private const BARE = '~^(?:www\.)?[\p{L}\p{N}](?:[\p{L}\p{N}-]*[\p{L}\p{N}])?(?:\.[\p{L}\p{N}](?:[\p{L}\p{N}-]*[\p{L}\p{N}])?)+(?::\d{1,5})?(?:[/?#]\S*)?$~u';

    /**
     * @param list<ListedAddress> $addresses each once, in their order
     * @param array<int, string>  $unread    lines in which no address was found, by their number, shortened
     * @param int                 $repeated  how many stood there again
     * @param bool                $isCut     whether there were more than are taken
     */
    private function __construct(public array $addresses, public array $unread, public int $repeated, public bool $isCut)
    {
    }

    /** @param Url|null $base what relative links of an HTML document are resolved against */
    public static function read(string $text, ?Url $base = null): self
    {
        $text = mb_scrub(substr((string) preg_replace('/^\xEF\xBB\xBF/', '', $text), 0, self::MAX_BYTES));
        $found = $unread = [];
        if (1 === preg_match('~<a\s[^<>]*\bhref\s*=~i', $text)) {
            $found = self::links($text, $base);
        } else {
            foreach (Split::by('/\r\n|\n|\r/', $text) as $n => $line) {
                $line = trim($line);
                $here = '' === $line || '#' === $line[0] ? [] : self::line($line, $n + 1);
                array_push($found, ...$here);
                // The head of a table is no address that could not be read.
                if ([] === $here && '' !== $line && '#' !== $line[0] && !(0 === $n && 1 === preg_match('/[,;\t]|^(?:url|address|link)s?$/i', $line))) {
                    $unread[$n + 1] = mb_strimwidth($line, 0, 160, '…');
                }
            }
        }
        $once = [];
        foreach ($found as $one) {
            $once[$one->url] ??= $one;
        }

        return new self(\array_slice(array_values($once), 0, self::MOST), \array_slice($unread, 0, 200, true), \count($found) - \count($once), \count($once) > self::MOST);
    }

    /**
     * @return list<ListedAddress>
     */
    private static function line(string $line, int $number): array
    {
        $separator = 1 === preg_match('/[\t;,]/', $line, $m) ? $m[0] : ',';
        $cells = array_map(static fn (?string $cell): string => trim((string) $cell), str_getcsv($line, $separator, '"', ''));
        $found = $rest = [];
        foreach ($cells as $cell) {
            $url = 1 === preg_match('~^https?://\S+$~i', $cell) || 1 === preg_match(self::BARE, $cell) ? self::address($cell) : null;
            if (null !== $url) {
                $found[] = $url;
            } elseif ('' !== $cell) {
                $rest[] = $cell;
            }
        }
        if ([] === $found && preg_match_all('~\bhttps?://[^\s<>"\'`|\\\\^{}]+~iu', $line, $m) > 0) {
            foreach ($m[0] as $text) {
                // What ends a sentence or a bracket ends the address, too.
                $text = (string) preg_replace('/[.,;:!?»”’]+$/u', '', $text);
                $text = str_ends_with($text, ')') && substr_count($text, '(') < substr_count($text, ')') ? substr($text, 0, -1) : $text;
                $url = self::address($text);
                if (null !== $url) {
                    $found[] = $url;
                }
            }
            $rest = [];
        }

        return array_map(static fn (string $url): ListedAddress => new ListedAddress($url, mb_strimwidth($rest[0] ?? '', 0, 300, '…'), $number), $found);
    }

    /**
     * @return list<ListedAddress>
     */
    private static function links(string $html, ?Url $base): array
    {
        $html = (string) preg_replace('~<!--.*?-->|<(script|style|template)\b.*?</\1\s*>~is', '', $html);
        preg_match_all('~<a\s(?:[^<>"\']|"[^"]*"|\'[^\']*\')*?\bhref\s*=\s*(?:"([^"]*)"|\'([^\']*)\'|([^\s>]+))[^>]*>(.*?)(?=</a\b|<a\s|<dt\b|\z)~is', $html, $all, \PREG_SET_ORDER | \PREG_OFFSET_CAPTURE);
        $found = [];
        foreach ($all as $m) {
            $href = html_entity_decode($m[1][0].$m[2][0].$m[3][0], \ENT_QUOTES | \ENT_HTML5, 'UTF-8');
            $url = Url::tryParse($href, $base);
            if (null !== $url && $url->isWeb()) {
                $title = trim((string) preg_replace('/\s+/u', ' ', html_entity_decode(strip_tags($m[4][0]), \ENT_QUOTES | \ENT_HTML5, 'UTF-8')));
                $found[] = new ListedAddress((string) $url->withoutFragment(), mb_strimwidth($title, 0, 300, '…'), substr_count($html, "\n", 0, $m[0][1]) + 1);
            }
        }

        return $found;
    }

    private static function address(string $text): ?string
    {
        try {
            return (string) Url::typed($text)->withoutFragment();
        } catch (InvalidAddress) {
            return null;
        }
    }
}
