<?php

declare(strict_types=1);

namespace Ypomna\Core\Page;

use Ypomna\Core\Matches;

/**
 * The parts that a document asks for when it is shown: what its elements and its style name (HTML Living Standard, sections
 * 4.2.4, 4.8 and 15.3; CSS Values Level 4, section 4.5). Links that a reader follows are none.
 */
final class Requisites
{
    private const SOURCES = [
        'img' => ['src'], 'script' => ['src'], 'iframe' => ['src'], 'frame' => ['src'], 'embed' => ['src'], 'object' => ['data'],
        'video' => ['src', 'poster'], 'audio' => ['src'], 'source' => ['src'], 'applet' => ['archive', 'code'],
        'track' => ['src'], 'input' => ['src'], 'body' => ['background'], 'table' => ['background'], 'td' => ['background'],
        'th' => ['background'], 'image' => ['href', 'xlink:href'], 'use' => ['href', 'xlink:href'], 'link' => ['href'],
    ];
    private const ATTRIBUTE = '/([^\s"\'<>\/=]+)(?:\s*=\s*(?:"([^"]*)"|\'([^\']*)\'|([^\s"\'>]+)))?/';

    /** What may hold `url()`: SVG 2, section 6.6, has the presentation attributes. */
    private const STYLED = [
        'style' => 1, 'fill' => 1, 'stroke' => 1, 'filter' => 1, 'mask' => 1, 'clip-path' => 1, 'cursor' => 1, 'marker-start' => 1,
        'marker-mid' => 1, 'marker-end' => 1,
    ];

    /** More of a document is not looked for: whoever writes so many wants to cost time. */
    private const MOST = 20_000;
    private const MOST_ATTRIBUTES = 500;
    private const DEEPEST = 3;
    private const MOST_SOURCES = 100;

    private const ICON = '/(?:^|\s)(?:icon|apple-touch-icon(?:-precomposed)?|mask-icon)(?:\s|$)/i';

    /** Old and new forms of what only a plug-in could show. */
    private const PLUGINS = '#^application/(?:x-shockwave|futuresplash|x-java|java-|x-silverlight|vnd\.unity|x-director|x-authorware|'
        .'x-unity)|^(?:audio|video|image)/(?:vnd\.rn-|x-pn-realaudio|svg-xml-viewer)#i';

    /**
     * @param string $html UTF-8
     *
     * @return array{string|null, list<list<string>>} the document's base as it is written, and what is asked for, as it is written: of each
     *     list any one will do (the candidates of a picture)
     */
    public static function of(string $html): array
    {
        [$base, $all] = self::all($html);

        return [
            $base,
            array_values(array_map(
                static fn (Requisite $one): array => $one->any,
                array_filter($all, static fn (Requisite $one): bool => RequisiteKind::Icon !== $one->kind),
            )),
        ];
    }

    /**
     * @param string $html UTF-8
     * @param int $depth of a document that is written into a frame
     *
     * @return array{string|null, list<Requisite>}
     */
    public static function all(string $html, int $depth = 0): array
    {
        $base = null;
        $wanted = [];
        $html = (string) preg_replace(
            '~<!--(?:-?>|.*?(?:-->|--!>|\z))|<(noscript|template(?![^<>]*\sshadowrootmode\b)|textarea|title)\b[^<>]*>.*?(?:</\1\s*>|\z)~is',
            '',
            $html,
        );
        foreach (Matches::of('~<style\b[^<>]*>(.*?)(?:</style\s*>|\z)~is', $html, self::MOST) as $style) {
            array_push($wanted, ...self::inStyle($style[1] ?? '', self::MOST - \count($wanted)));
        }
        $html = (string) preg_replace('~(<(script|style)\b[^<>]*>).*?(?:</\2\s*>|\z)~is', '$1', $html);
        // Sources of a picture, of a film or of a sound, of which a browser takes one: the element they belong to, and they so far.
        [$owner, $sources] = ['', []];
        foreach (Matches::of('~<([a-z][a-z0-9:]*)((?:[^<>"\']++|"[^"]*"|\'[^\']*\')*+)>~i', $html) as $tag) {
            $name = strtolower($tag[1] ?? '');
            if ('' === ($tag[2] ?? '') && 'picture' !== $name) {
                // It asks for nothing.
                continue;
            }
            if (\count($wanted) >= self::MOST) {
                break;
            }
            $attributes = self::attributes($tag[2] ?? '');
            if ('iframe' === $name && isset($attributes['srcdoc'])) {
                // It stands in place of the frame's address, and has the document's base.
                array_push(
                    $wanted,
                    ...($depth < self::DEEPEST ? \array_slice(
                        self::all($attributes['srcdoc'], $depth + 1)[1], 0, self::MOST - \count($wanted),
                    ) : []),
                );
                continue;
            }
            if ('base' === $name) {
                $base ??= $attributes['href'] ?? null;
            }
            if ('picture' === $name) {
                [$owner, $sources] = ['picture', []];
            } elseif ('source' === $name && '' !== $owner) {
                array_push(
                    $sources,
                    ...\array_slice(
                        [...self::one($attributes['src'] ?? ''), ...self::candidates($attributes['srcset'] ?? '')],
                        0,
                        max(0, self::MOST - \count($sources)),
                    ),
                );
            } elseif (self::asks($name, $attributes)) {
                if ('picture' !== $owner && \in_array($name, ['video', 'audio'], true) || 'img' === $name && 'picture' !== $owner) {
                    self::media($owner, $sources, $wanted);
                }
                foreach (self::SOURCES[$name] ?? [] as $attribute) {
                    $any = self::anyOf($name, $attribute, $attributes, 'img' === $name && 'picture' === $owner ? $sources : []);
                    if ([] !== $any) {
                        $kind = self::kind($name, $attribute, $attributes);
                        $wanted[] = new Requisite($kind, $any, RequisiteKind::Print === $kind || RequisiteKind::Icon === $kind);
                    }
                }
                if ('img' === $name && 'picture' === $owner) {
                    [$owner, $sources] = ['', []];
                } elseif (\in_array($name, ['video', 'audio'], true)) {
                    self::media($owner, $sources, $wanted);
                    [$owner, $sources] = [$name, []];
                }
            }
            foreach (array_intersect_key($attributes, self::STYLED) as $style) {
                array_push($wanted, ...self::inStyle($style, self::MOST - \count($wanted)));
            }
        }
        self::media($owner, $sources, $wanted);

        return [$base, $wanted];
    }

    /**
     * @param list<string> $sources
     * @param list<Requisite> $wanted
     */
    private static function media(string &$owner, array &$sources, array &$wanted): void
    {
        if ([] !== $sources) {
            $wanted[] = new Requisite('picture' === $owner ? RequisiteKind::Image : RequisiteKind::Media, $sources);
        }
        [$owner, $sources] = ['', []];
    }

    /**
     * @param array<string, string> $attributes
     * @param list<string> $others that would do as well
     *
     * @return list<string>
     */
    private static function anyOf(string $name, string $attribute, array $attributes, array $others): array
    {
        $any = [
            ...self::one($attributes[$attribute] ?? ''), ...('src' === $attribute ? self::candidates($attributes['srcset'] ?? '') : []),
        ];
        if ('img' === $name && self::isPlaceholder($any)) {
            // Scripts move these into place when the picture comes into sight.
            $later = [
                ...self::one($attributes['data-src'] ?? $attributes['data-lazy-src'] ?? $attributes['data-original'] ?? ''),
                ...self::candidates($attributes['data-srcset'] ?? ''),
            ];
            $any = [] === $later ? $any : $later;
        }

        return [...$any, ...$others];
    }

    /**
     * What a style sheet asks for.
     *
     * @return list<list<string>>
     */
    public static function ofStyle(string $css): array
    {
        return array_map(static fn (Requisite $one): array => $one->any, self::inStyle($css));
    }

    /**
     * What a style sheet may ask for: browsers fetch of it what the page makes use of.
     *
     * @param int $most how many at most
     *
     * @return list<Requisite>
     */
    public static function inStyle(string $css, int $most = self::MOST): array
    {
        $found = [];
        foreach (StyleReferences::of($css) as $reference) {
            $any = self::one($reference->value);
            if ([] === $any) {
                continue;
            }
            $key = null === $reference->oneOf ? 'at '.$reference->offset : 'of '.$reference->oneOf;
            if (!isset($found[$key]) && \count($found) >= $most) {
                break;
            }
            $found[$key] = new Requisite(match (true) {
                $reference->isFont => RequisiteKind::Font,
                $reference->isImported => RequisiteKind::Style,
                default => RequisiteKind::Image,
            }, \array_slice([...($found[$key]->any ?? []), ...$any], 0, self::MOST_SOURCES), true);
        }

        return array_values($found);
    }

    /**
     * @param list<string> $any
     */
    private static function isPlaceholder(array $any): bool
    {
        return [] === $any || (1 === \count($any) && str_starts_with($any[0], 'data:'));
    }

    /**
     * @param array<string, string> $attributes
     */
    private static function kind(string $name, string $attribute, array $attributes): RequisiteKind
    {
        return match (true) {
            'poster' === $attribute => RequisiteKind::Image,
            \in_array($name, ['object', 'embed'], true) => match (true) {
                1 === preg_match(self::PLUGINS, $attributes['type'] ?? ''), isset($attributes['classid']),
                1 === preg_match(
                    '#\.(?:swf|class|jar|xap|dcr)(?:[?\#]|$)#i', ($attributes['src'] ?? '').($attributes['data'] ?? ''),
                ) => RequisiteKind::Plugin,
                default => RequisiteKind::Frame,
            },
            'applet' === $name => RequisiteKind::Plugin,
            \in_array($name, ['iframe', 'frame'], true) => RequisiteKind::Frame,
            'script' === $name => RequisiteKind::Script,
            'link' === $name && 1 === preg_match(self::ICON, $attributes['rel'] ?? '') => RequisiteKind::Icon,
            'link' === $name => 1 === preg_match('/^\s*print\s*$/i', $attributes['media'] ?? '')
                ? RequisiteKind::Print
                : RequisiteKind::Style,
            \in_array($name, ['video', 'audio', 'track'], true),
            'source' === $name && [] === self::candidates($attributes['srcset'] ?? '') => RequisiteKind::Media,
            default => RequisiteKind::Image,
        };
    }

    /**
     * @param array<string, string> $attributes
     */
    private static function asks(string $name, array $attributes): bool
    {
        return match ($name) {
            'link' => 1 === preg_match(self::ICON, $attributes['rel'] ?? '')
                || 1 === preg_match('/(?:^|\s)stylesheet(?:\s|$)/i', $attributes['rel'] ?? '')
                    && 1 !== preg_match('/(?:^|\s)alternate(?:\s|$)/i', $attributes['rel'] ?? ''),
            // Print styles are fetched by browsers, too; of alternatives only when they are chosen.
            'script' => 1 !== preg_match(
                '#^(?:speculationrules|application/(?:ld\+)?json|text/(?:template|x-[a-z-]+|html))$#i', trim($attributes['type'] ?? ''),
            ),
            'input' => 0 === strcasecmp('image', $attributes['type'] ?? ''),
            default => true,
        };
    }

    /**
     * @return array<string, string>
     */
    private static function attributes(string $text): array
    {
        $attributes = [];
        foreach (Matches::of(self::ATTRIBUTE, $text, self::MOST_ATTRIBUTES) as $m) {
            $attributes[strtolower($m[1] ?? '')] ??= html_entity_decode(
                ($m[2] ?? '').($m[3] ?? '').($m[4] ?? ''), \ENT_QUOTES | \ENT_HTML5, 'UTF-8',
            );
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
        $candidates = [];
        foreach (Candidates::of($srcset) as $address) {
            $candidates[] = $address;
            if (\count($candidates) >= self::MOST_ATTRIBUTES) {
                break;
            }
        }

        return $candidates;
    }
}
