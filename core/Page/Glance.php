<?php

declare(strict_types=1);

namespace Ypomna\Core\Page;

use Ypomna\Core\Address\Url;

/**
 * What a page leads to and about what it says, read in one pass without a tree: for going through a site, where a page is looked
 * at once and quickly.
 */
final readonly class Glance
{
    private const BLOCK = 'p|div|td|th|li|h[1-6]|br|tr|dd|dt|section|article|table|ul|ol|figcaption|title|option|pre|blockquote|hr|'
        .'caption|label|button|a';
    private const MOST_LINKS = 20_000;
    /** Of a value of an attribute, in bytes. */
    private const LONGEST = 8_192;

    /**
     * @param list<string> $links absolute addresses of the web, without fragments, each once
     * @param list<string> $feeds those of them that the page names as its feeds
     * @param list<string> $pieces texts, white space folded
     */
    private function __construct(public string $title, public array $links, public array $feeds, public array $pieces)
    {
    }

    /** @param string $html UTF-8 */
    public static function at(string $html, Url $url): self
    {
        $html = (string) preg_replace(
            '~<!--(?:-?>|.*?(?:-->|--!>|\z))|<(script|style|template|noscript)\b[^<>]*+>.*?(?:</\1\s*>|\z)~is', '', $html,
        );
        $title = 1 === preg_match('~<title\b[^<>]*>(.*?)</title~is', $html, $m)
            ? Text::normalise(html_entity_decode($m[1], \ENT_QUOTES | \ENT_HTML5, 'UTF-8'))
            : '';
        preg_match_all('~<(a|area|link|base|meta)\s((?:[^<>"\']++|"[^"]*"|\'[^\']*\')*+)>~i', $html, $tags, \PREG_SET_ORDER);
        $base = $url;
        $links = $feeds = $seen = [];
        foreach ($tags as $tag) {
            $name = strtolower($tag[1]);
            $href = self::attribute($tag[2], 'href');
            if ('base' === $name && null !== $href) {
                $base = Url::tryParse($href, $url) ?? $base;
                continue;
            }
            $isFeed = false;
            if ('link' === $name) {
                $rel = ' '.strtolower(self::attribute($tag[2], 'rel') ?? '').' ';
                $isFeed = str_contains($rel, ' alternate ')
                    && 1 === preg_match('#^application/(?:rss|atom)\+xml#i', self::attribute($tag[2], 'type') ?? '');
                $href = $isFeed
                    || 1 === preg_match('/ (?:next|prev|previous|alternate|canonical|first|last|up|help|license|author|search) /', $rel)
                    ? $href
                    : null;
            } elseif ('meta' === $name) {
                $href = 1 === preg_match('/\bhttp-equiv\s*=\s*["\']?refresh/i', $tag[2])
                    && 1 === preg_match(
                        '/^[^;,]*[;,]\s*(?:url\s*=\s*)?["\']?(.+?)["\']?\s*$/is', self::attribute($tag[2], 'content') ?? '', $to,
                    )
                    ? $to[1]
                    : null;
            }
            if (null === $href || isset($seen[$href]) || \count($links) >= self::MOST_LINKS) {
                continue;
            }
            $seen[$href] = true;
            $to = 1 === preg_match('#^\s*(?:javascript|mailto|tel|data|blob|about):#i', $href) ? null : Url::tryParse($href, $base);
            if (null !== $to && $to->isWeb()) {
                $address = (string) $to->withoutFragment();
                $links[$address] = true;
                if ($isFeed) {
                    $feeds[$address] = true;
                }
            }
        }

        return new self(
            $title, array_map(\strval(...), array_keys($links)), array_map(\strval(...), array_keys($feeds)), self::pieces($html),
        );
    }

    /**
     * @return list<string>
     */
    private static function pieces(string $html): array
    {
        $html = (string) preg_replace('/\s+/', ' ', $html);
        $html = (string) preg_replace('~</?(?:'.self::BLOCK.')\b[^<>]*+>~i', "\n", $html);
        $text = html_entity_decode((string) preg_replace('~<[^<>]*+>~', '', $html), \ENT_QUOTES | \ENT_HTML5, 'UTF-8');

        return array_values(array_filter(
            array_map(static fn (string $line): string => trim((string) preg_replace('/\s+/', ' ', $line)), explode("\n", $text)),
            static fn (string $line): bool => '' !== $line,
        ));
    }

    private static function attribute(string $attributes, string $name): ?string
    {
        if (1 !== preg_match('/(?:^|[\s"\'])'.$name.'\s*=\s*(?:"([^"]*)"|\'([^\']*)\'|([^\s"\'>]+))/i', $attributes, $m)) {
            return null;
        }

        return html_entity_decode(substr($m[1].($m[2] ?? '').($m[3] ?? ''), 0, self::LONGEST), \ENT_QUOTES | \ENT_HTML5, 'UTF-8');
    }
}
