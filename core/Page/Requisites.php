<?php

declare(strict_types=1);

namespace Ypomna\Core\Page;

/**
 * The parts that a document asks for when it is shown: what its elements and its style name (HTML Living Standard, sections
 * 4.2.4, 4.8 and 15.3; CSS Values Level 4, section 4.5). Links that a reader follows are none.
 */
final class Requisites
{
    private const SOURCES = [
        'img' => ['src'], 'script' => ['src'], 'iframe' => ['src'], 'frame' => ['src'], 'embed' => ['src'], 'object' => ['data'], 'video' => ['src', 'poster'], 'audio' => ['src'], 'source' => ['src'],
        'track' => ['src'], 'input' => ['src'], 'body' => ['background'], 'table' => ['background'], 'td' => ['background'], 'th' => ['background'], 'image' => ['href', 'xlink:href'], 'use' => ['href', 'xlink:href'], 'link' => ['href'],
    ];
    private const ATTRIBUTE = '/([^\s"\'<>\/=]+)(?:\s*=\s*(?:"([^"]*)"|\'([^\']*)\'|([^\s"\'>]+)))?/';

    /**
     * @param string $html UTF-8
     *
     * @return array{string|null, list<list<string>>} the document's base as it is written, and what is asked for, as it is
     *                                                written: of each list any one will do (the candidates of a picture)
     */
    public static function of(string $html): array
    {
        $base = null;
        $wanted = [];
        $html = (string) preg_replace('~<!--(?:-?>|.*?(?:-->|--!>|\z))|<(noscript|template(?![^>]*\sshadowrootmode\b)|textarea|title)\b[^>]*>.*?(?:</\1\s*>|\z)~is', '', $html);
        preg_match_all('~<style\b[^>]*>(.*?)(?:</style\s*>|\z)~is', $html, $styles);
        foreach ($styles[1] as $style) {
            array_push($wanted, ...self::ofStyle($style));
        }
        $html = (string) preg_replace('~(<(script|style)\b[^>]*>).*?(?:</\2\s*>|\z)~is', '$1', $html);
        preg_match_all('~<([a-z][a-z0-9:]*)((?:[^>"\']++|"[^"]*"|\'[^\']*\')*+)>~i', $html, $tags, \PREG_SET_ORDER);
        foreach ($tags as $tag) {
            $name = strtolower($tag[1]);
            $attributes = self::attributes($tag[2]);
            if ('base' === $name) {
                $base ??= $attributes['href'] ?? null;
            }
            if (self::asks($name, $attributes)) {
                foreach (self::SOURCES[$name] ?? [] as $attribute) {
                    $any = [...self::one($attributes[$attribute] ?? ''), ...('src' === $attribute ? self::candidates($attributes['srcset'] ?? '') : [])];
                    if ([] !== $any) {
                        $wanted[] = $any;
                    }
                }
            }
            array_push($wanted, ...self::ofStyle($attributes['style'] ?? ''));
        }

        return [$base, $wanted];
    }

    /**
     * What a style sheet asks for.
     *
     * @return list<list<string>>
     */
    public static function ofStyle(string $css): array
    {
        $css = (string) preg_replace('~/\*.*?(?:\*/|\z)~s', '', $css);
        preg_match_all('~url\(\s*(?:"([^"]*)"|\'([^\']*)\'|([^\s"\'()]+))\s*\)|@import\s+(?:"([^"]*)"|\'([^\']*)\')~i', $css, $all, \PREG_SET_ORDER);

        return array_values(array_filter(array_map(static fn (array $m): array => self::one(implode('', \array_slice($m, 1))), $all), static fn (array $any): bool => [] !== $any));
    }

    /**
     * @param array<string, string> $attributes
     */
    private static function asks(string $name, array $attributes): bool
    {
        return match ($name) {
            'link' => 1 === preg_match('/(?:^|\s)stylesheet(?:\s|$)/i', $attributes['rel'] ?? ''),
            'input' => 0 === strcasecmp('image', $attributes['type'] ?? ''),
            default => true,
        };
    }

    /**
     * @return array<string, string>
     */
    private static function attributes(string $text): array
    {
        preg_match_all(self::ATTRIBUTE, $text, $all, \PREG_SET_ORDER);
        $attributes = [];
        foreach ($all as $m) {
            $attributes[strtolower($m[1])] ??= html_entity_decode(($m[2] ?? '').($m[3] ?? '').($m[4] ?? ''), \ENT_QUOTES | \ENT_HTML5, 'UTF-8');
        }

        return $attributes;
    }

    /**
     * @return list<string>
     */
    private static function one(string $reference): array
    {
        $reference = trim($reference);

        return '' === $reference || '#' === $reference[0] ? [] : [$reference];
    }

    /**
     * @return list<string> the addresses of a srcset (section 4.8.4.2.1)
     */
    private static function candidates(string $srcset): array
    {
        preg_match_all('/(?:^|,)\s*([^\s,]\S*[^\s,]|[^\s,])/', $srcset, $m);

        return $m[1];
    }
}
