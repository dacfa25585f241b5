<?php

declare(strict_types=1);

namespace Ypomna\Core\Crawl;

use Ypomna\Core\Address\Url;
use Ypomna\Core\Split;

/**
 * Addresses from files that name a site's pages: sitemaps and lists of sitemaps (sitemaps.org protocol 0.9), as XML or text,
 * and feeds (RFC 4287; RSS 0.9 to 2.0). Read piece by piece; what is broken gives what came before the break.
 */
final readonly class AddressFile
{
    /** A sitemap has at most this many (sitemaps.org, “Sitemap file format”). */
    public const MOST = 50_000;
    public const MAX_BYTES = 52_428_800;

    /**
     * @param list<string> $pages absolute addresses
     * @param list<string> $sitemaps addresses of further sitemaps
     */
    private function __construct(public array $pages, public array $sitemaps)
    {
    }

    /** @param iterable<string> $pieces with codings removed; a gzip file is unpacked */
    public static function read(iterable $pieces, Url $at): self
    {
        $bytes = '';
        foreach ($pieces as $piece) {
            $bytes .= $piece;
            if (\strlen($bytes) > self::MAX_BYTES) {
                $bytes = substr($bytes, 0, self::MAX_BYTES);
                break;
            }
        }
        $bytes = str_starts_with($bytes, "\x1f\x8b") ? self::unpacked($bytes) : $bytes;

        return str_starts_with(ltrim($bytes, "\xEF\xBB\xBF \t\r\n"), '<') ? self::xml($bytes, $at) : self::text($bytes, $at);
    }

    private static function unpacked(string $bytes): string
    {
        $inflater = inflate_init(\ZLIB_ENCODING_GZIP);
        $plain = '';
        foreach (str_split($bytes, 16_384) as $piece) {
            $more = false === $inflater ? false : @inflate_add($inflater, $piece);
            if (false === $more || \strlen($plain .= $more) > self::MAX_BYTES) {
                break;
            }
        }

        return substr($plain, 0, self::MAX_BYTES);
    }

    private static function text(string $text, Url $at): self
    {
        $pages = [];
        foreach (Split::by('/[\r\n]+/', $text) as $line) {
            if (\count($pages) >= self::MOST) {
                break;
            }
            if (1 === preg_match('#^\s*https?://\S+\s*$#i', $line)) {
                self::add($pages, $line, $at);
            }
        }

        return new self(array_map(\strval(...), array_keys($pages)), []);
    }

    private static function xml(string $xml, Url $at): self
    {
        $before = libxml_use_internal_errors(true);
        $pages = $maps = $path = [];
        // No network, no entities of the document's own: neither other files nor swelling texts come in.
        $reader = '' === trim($xml) ? null : \XMLReader::XML(ltrim($xml), null, \LIBXML_NONET | \LIBXML_COMPACT);
        if (!$reader instanceof \XMLReader) {
            return new self([], []);
        }
        try {
            while (\count($pages) + \count($maps) < self::MOST && @$reader->read()) {
                if (\XMLReader::ELEMENT === $reader->nodeType) {
                    $path[$reader->depth] = strtolower($reader->localName);
                    $parent = $path[$reader->depth - 1] ?? '';
                    if ('link' === $reader->localName && 'alternate' === ($reader->getAttribute('rel') ?? 'alternate')
                        && null !== $reader->getAttribute('href') && \in_array($parent, ['entry', 'feed'], true)) {
                        self::add($pages, $reader->getAttribute('href'), $at);
                    }
                } elseif (\in_array($reader->nodeType, [\XMLReader::TEXT, \XMLReader::CDATA], true)) {
                    [$parent, $name] = [$path[$reader->depth - 2] ?? '', $path[$reader->depth - 1] ?? ''];
                    if ('loc' === $name && 'sitemap' === $parent) {
                        self::add($maps, $reader->value, $at);
                    } elseif (('loc' === $name && 'url' === $parent)
                        || ('link' === $name && \in_array($parent, ['item', 'channel'], true))) {
                        self::add($pages, $reader->value, $at);
                    }
                }
            }
            if ([] !== libxml_get_errors() && [] === $maps) {
                self::broken($xml, $at, $pages);
            }
        } finally {
            $reader->close();
            libxml_clear_errors();
            libxml_use_internal_errors($before);
        }

        return new self(array_map(\strval(...), array_keys($pages)), array_map(\strval(...), array_keys($maps)));
    }

    /**
     * The parser stops before a break, by as much as it reads ahead; what can be recognised is taken all the same.
     *
     * @param array<string, true> $pages
     */
    private static function broken(string $xml, Url $at, array &$pages): void
    {
        preg_match_all('~<(?:loc|link)>\s*([^<>\s]{1,8192})\s*</(?:loc|link)>~', $xml, $m);
        foreach (\array_slice($m[1], 0, max(0, self::MOST - \count($pages))) as $address) {
            self::add($pages, html_entity_decode($address, \ENT_QUOTES | \ENT_XML1, 'UTF-8'), $at);
        }
    }

    /** @param array<string, true> $to */
    private static function add(array &$to, string $address, Url $at): void
    {
        $url = Url::tryParse(trim($address), $at);
        if (null !== $url && $url->isWeb()) {
            $to[(string) $url->withoutFragment()] = true;
        }
    }
}
