<?php

declare(strict_types=1);

namespace Ypomna\Core\Mhtml;

use Ypomna\Core\Http\Body;
use Ypomna\Core\Warc\Block;
use Ypomna\Core\Warc\ResourceFile;

/**
 * Turns the parts of an MHTML file or a mail message into WARC records. A part keeps its address; one that has none of
 * the web gets a made-up one below `taken-in.invalid` (RFC 6761), and what refers to it by Content-ID, or by a location of that form, is
 * led there.
 */
final class WarcConversion
{
    /** Documents up to here have their references by Content-ID led to addresses, in bytes. */
    private const MAX_DOCUMENT = 16_777_216;

    /**
     * @param string $folder an empty folder for the parts while they are written
     * @param string $authority host of made-up addresses
     *
     * @return list<array{string, string}> record id and address of each page
     */
    public static function write(Archive $archive, ResourceFile $out, string $folder, string $authority): array
    {
        $addresses = $used = [];
        foreach ($archive->parts as $part) {
            $address = self::address($part, $authority);
            // Two captures of one page can lie in a file: what is referred to by its Content-ID must not hide behind another's address.
            if (isset($used[$address]) && null !== $part->headers->contentId()) {
                $address = 'http://'.$authority.'/part-'.$part->index.('text/html' === $part->headers->mime ? '.html' : '');
            }
            $used[$address] = true;
            $addresses[$part->index] = $address;
        }
        $pages = [];
        for ($page = 0; $page < $archive->pages; ++$page) {
            $parts = $archive->partsOf($page);
            // The page's document first: so it is taken for the page by whoever reads the file.
            usort($parts, static fn (Entity $a, Entity $b): int => [!$a->root, $a->index] <=> [!$b->root, $b->index]);
            foreach ($parts as $part) {
                $id = $out->resource(
                    $addresses[$part->index], self::contentType($part), self::block($archive, $part, $addresses, $folder.'/part'),
                    isPage: $part->root,
                );
                if ($part->root) {
                    $pages[] = [$id, $addresses[$part->index]];
                }
            }
        }
        $title = trim(Headers::decodeWords($archive->message?->headers->fields->get('Subject') ?? ''));
        foreach ($pages as [$id, $url]) {
            $out->page($id, $url, $title);
        }
        @unlink($folder.'/part');

        return $pages;
    }

    private static function address(Entity $part, string $authority): string
    {
        $location = $part->location() ?? '';
        if (1 === preg_match('#^https?://#i', $location)) {
            return $location;
        }
        $name = 1 === preg_match('#^thismessage:/(.+)$#', $location, $m)
            ? $m[1]
            : 'part-'.$part->index.('text/html' === $part->headers->mime ? '.html' : '');

        return 'http://'.$authority.'/'.$name;
    }

    private static function contentType(Entity $part): string
    {
        $charset = $part->headers->charset();

        return $part->headers->mime.(null === $charset || !str_starts_with($part->headers->mime, 'text/') ? '' : '; charset='.$charset);
    }

    /**
     * Shadow roots as the standard declares them (HTML Living Standard, section 4.12.3); browsers wrote them otherwise before there was
     * one.
     */
    private static function standard(string $html): string
    {
        return (string) preg_replace_callback(
            '~<template\b[^>]*>~i',
            static fn (array $m): string => 1 === preg_match('/\sshadowrootmode\b/i', $m[0]) ? $m[0]
            : (string) preg_replace(
                ['/(\s)shadowmode(?=\s*=)/i', '/(\s)shadowdelegatesfocus\b/i'], ['$1shadowrootmode', '$1shadowrootdelegatesfocus'], $m[0],
            ), $html);
    }

    /**
     * @param array<int, string> $addresses by number of the part
     */
    private static function block(Archive $archive, Entity $part, array $addresses, string $path): Block
    {
        $isText = \in_array($part->headers->mime, ['text/html', 'application/xhtml+xml', 'text/css', 'image/svg+xml'], true);
        if ($isText && $part->bytes <= self::MAX_DOCUMENT) {
            $text = Body::collect($archive->body($part), self::MAX_DOCUMENT);
            $ids = [];
            foreach (str_contains($text, 'cid:') ? $archive->parts : [] as $other) {
                $location = $other->location() ?? '';
                if (1 === preg_match('#^cid:[^\s"\'<>]+$#i', $location)) {
                    // Browsers name style sheets that a page made itself so.
                    $ids[$location] ??= $addresses[$other->index];
                }
                $id = $other->headers->contentId();
                if (null !== $id) {
                    // With a blank in it, it is written as it stands, coded, or without it.
                    foreach ([$id, rawurlencode($id), str_replace(' ', '%20', $id), str_replace(' ', '', $id)] as $spelled) {
                        $ids['cid:'.$spelled] ??= $addresses[$other->index];
                    }
                }
            }

            return Block::ofString(self::standard([] === $ids ? $text : strtr($text, $ids)));
        }
        $handle = fopen($path, 'w');
        if (false === $handle) {
            throw new \RuntimeException(\sprintf('The file “%s” cannot be written.', $path));
        }
        foreach ($archive->body($part) as $piece) {
            if (\strlen($piece) !== @fwrite($handle, $piece)) {
                throw new \RuntimeException('The disk took no more while a part was being written down.');
            }
        }
        fclose($handle);

        return Block::ofFile($path);
    }
}
