<?php

declare(strict_types=1);

namespace Ypomna\Core\Address;

use Ypomna\Core\Lz4Block;
use Ypomna\Core\Matches;
use Ypomna\Core\Split;

/**
 * The addresses in a text, in a table with commas or semicolons (RFC 4180), in the links of an HTML document, such as the bookmarks file
 * that browsers write, in JSON, as their sessions and bookmarks are, or in XML that lists pages, as reading lists are.
 */
final readonly class AddressList
{
    public const MOST = 2_000;
    private const MAX_BYTES = 16_777_216;
    /** More that stand there again, or cannot be read, are not counted. */
    private const MOST_FOUND = 100_000;
    /** They are gathered before they are counted. */
    private const MOST_OBJECTS = 20_000;
    private const MOST_UNREAD = 200;
    /** Of a line, in bytes. */
    private const LONGEST_LINE = 65_536;
    /** Of a link's text, in bytes. */
    private const LONGEST_TITLE = 4_096;
    private const BARE = '~^(?:www\.)?[\p{L}\p{N}](?:[\p{L}\p{N}-]*[\p{L}\p{N}])?(?:\.[\p{L}\p{N}](?:[\p{L}\p{N}-]*[\p{L}\p{N}])?)+'
        .'(?::\d{1,5})?(?:[/?#]\S*)?$~u';

    /**
     * @param list<ListedAddress> $addresses each once, in their order
     * @param array<int, string> $unread lines in which no address was found, by their number, shortened
     * @param int $repeated how many stood there again
     * @param bool $isCut whether there were more than are taken
     */
    private function __construct(public array $addresses, public array $unread, public int $repeated, public bool $isCut)
    {
    }

    /** @param Url|null $base what relative links of an HTML document are resolved against */
    public static function read(string $text, ?Url $base = null): self
    {
        $text = Lz4Block::ofSession($text, self::MAX_BYTES) ?? $text;
        $text = substr($text, str_starts_with($text, "\xEF\xBB\xBF") ? 3 : 0, self::MAX_BYTES);
        $text = mb_check_encoding($text, 'UTF-8') ? $text : mb_scrub($text);
        $once = $unread = [];
        $count = 0;
        foreach (self::found($text, $base, $unread) as $one) {
            if (++$count > self::MOST_FOUND) {
                break;
            }
            if (\count($once) <= self::MOST) {
                $once[$one->url] ??= $one;
            } elseif (!isset($once[$one->url])) {
                --$count;
            }
        }

        return new self(\array_slice(array_values($once), 0, self::MOST), $unread, $count - \count($once), \count($once) > self::MOST);
    }

    /**
     * @param array<int, string> $unread
     *
     * @return iterable<ListedAddress>
     */
    private static function found(string $text, ?Url $base, array &$unread): iterable
    {
        $found = match (true) {
            JsonAddresses::is($text) => JsonAddresses::in($text, self::MOST_OBJECTS),
            XmlAddresses::is($text) => XmlAddresses::in($text, self::MOST_OBJECTS),
            default => [],
        };

        return match (true) {
            [] !== $found => $found,
            1 === preg_match('~<a\s[^<>]*\bhref\s*=~i', $text) => self::links($text, $base),
            default => self::lines($text, $unread),
        };
    }

    /**
     * @param array<int, string> $unread
     *
     * @return \Generator<int, ListedAddress>
     */
    private static function lines(string $text, array &$unread): \Generator
    {
        foreach (Split::each('/\r\n|\n|\r/', $text) as $n => $line) {
            $line = trim($line);
            if ('' === $line || '#' === $line[0]) {
                continue;
            }
            $here = self::line($line, $n + 1);
            foreach ($here as $one) {
                yield $one;
            }
            // The head of a table is no address that could not be read.
            if ([] === $here && \count($unread) < self::MOST_UNREAD
                && !(0 === $n && 1 === preg_match('/[,;\t]|^(?:url|address|link)s?$/i', $line))) {
                $unread[$n + 1] = mb_strimwidth(substr($line, 0, 2_000), 0, 160, '…');
            }
        }
    }

    /**
     * @return list<ListedAddress>
     */
    private static function line(string $line, int $number): array
    {
        $line = mb_strcut($line, 0, self::LONGEST_LINE);
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

        return array_map(
            static fn (string $url): ListedAddress => new ListedAddress($url, mb_strimwidth($rest[0] ?? '', 0, 300, '…'), $number), $found,
        );
    }

    /**
     * @return \Generator<int, ListedAddress>
     */
    private static function links(string $html, ?Url $base): \Generator
    {
        $html = (string) preg_replace('~<!--.*?(?:-->|\z)|<(script|style|template)\b.*?(?:</\1\s*>|\z)~is', '', $html);
        [$line, $counted] = [1, 0];
        foreach (Matches::of('~<a\s((?:[^<>"\']++|"[^"]*+"|\'[^\']*+\')*+)>~i', $html) as $at => $tag) {
            if (1 !== preg_match('~(?<![^\s"\'/])href\s*=\s*(?:"([^"]*)"|\'([^\']*)\'|([^\s>]+))~i', $tag[1] ?? '', $m)) {
                continue;
            }
            $href = html_entity_decode(implode('', \array_slice($m, 1)), \ENT_QUOTES | \ENT_HTML5, 'UTF-8');
            $url = Url::tryParse($href, $base);
            if (null !== $url && $url->isWeb()) {
                $words = substr($html, $at + \strlen($tag[0] ?? ''), self::LONGEST_TITLE);
                $end = 1 === preg_match('~</a\b|<a\s|<dt\b~i', $words, $m, \PREG_OFFSET_CAPTURE) ? $m[0][1] : \strlen($words);
                $title = trim((string) preg_replace(
                    '/\s+/u', ' ', html_entity_decode(strip_tags(mb_strcut($words, 0, $end)), \ENT_QUOTES | \ENT_HTML5, 'UTF-8'),
                ));
                $line += substr_count($html, "\n", $counted, $at - $counted);
                $counted = $at;
                yield new ListedAddress((string) $url->withoutFragment(), mb_strimwidth($title, 0, 300, '…'), $line);
            }
        }
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
