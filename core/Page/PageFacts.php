<?php

declare(strict_types=1);

namespace Ypomna\Core\Page;

use Ypomna\Core\Address\Url;
use Ypomna\Core\Html\Tree;

/** What a page says of itself, beside its text. */
final readonly class PageFacts
{
    private const MOST = 500;
    private const LONGEST = 20_000;

    /**
     * @param array<string, string> $metadata by name; of repeated ones all values, parted by line feeds
     * @param list<string> $structured JSON-LD as it stands
     * @param list<EmbeddedPart> $parts each once
     */
    private function __construct(
        public string $title,
        public string $description,
        public ?string $language,
        public ?Url $base,
        public array $metadata,
        public array $structured,
        public array $parts,
    ) {
    }

    public static function of(Tree $tree, ?Url $url): self
    {
        $base = self::base($tree, $url);
        $metadata = self::metadata($tree);
        $html = $tree->elements('html')->current();
        $language = null === $html ? null : ($tree->attribute($html, 'lang') ?? $tree->attribute($html, 'xml:lang'));
        $language = '' === trim($language ?? '') ? ($metadata['content-language'] ?? '') : $language;
        $structured = [];
        foreach ($tree->elements('script') as $script) {
            if ('application/ld+json' === strtolower(trim($tree->attribute($script, 'type') ?? '')) && \count($structured) < self::MOST) {
                $structured[] = mb_strcut(trim($tree->textInside($script)), 0, self::LONGEST);
            }
        }

        return new self(
            self::title($tree), $metadata['description'] ?? '', '' === $language ? null : $language, $base, $metadata, $structured,
            self::parts($tree, $base),
        );
    }

    private static function title(Tree $tree): string
    {
        foreach ($tree->elements('title') as $title) {
            $parent = $tree->parent($title);
            // A title in a drawing names the drawing.
            if (null === $parent
                || !\in_array($tree->name($parent), ['svg', 'g', 'path', 'symbol', 'text', 'a', 'circle', 'rect', 'use'], true)) {
                return Text::normalise($tree->textInside($title));
            }
        }

        return '';
    }

    private static function base(Tree $tree, ?Url $url): ?Url
    {
        foreach ($tree->elements('base') as $base) {
            $href = trim($tree->attribute($base, 'href') ?? '');
            if ('' !== $href) {
                return Url::tryParse($href, $url) ?? $url;
            }
        }

        return $url;
    }

    /**
     * @return array<string, string>
     */
    private static function metadata(Tree $tree): array
    {
        $metadata = [];
        foreach ($tree->elements('meta') as $meta) {
            $name = strtolower(trim(
                $tree->attribute($meta, 'name') ?? $tree->attribute($meta, 'property') ?? $tree->attribute($meta, 'http-equiv')
                    ?? $tree->attribute($meta, 'itemprop') ?? '',
            ));
            $value = Text::normalise(mb_strcut($tree->attribute($meta, 'content') ?? '', 0, self::LONGEST));
            if ('' === $name || 'content-type' === $name || \count($metadata) >= self::MOST) {
                continue;
            }
            if (!isset($metadata[$name])) {
                $metadata[$name] = $value;
            } elseif ('description' !== $name && \strlen($metadata[$name]) < self::LONGEST) {
                $metadata[$name] .= "\n".$value;
            }
        }
        foreach ($tree->elements('link') as $link) {
            if ('canonical' === strtolower(trim($tree->attribute($link, 'rel') ?? ''))) {
                $metadata['canonical'] ??= trim($tree->attribute($link, 'href') ?? '');
            }
        }

        return $metadata;
    }

    /**
     * @return list<EmbeddedPart>
     */
    private static function parts(Tree $tree, ?Url $base): array
    {
        $parts = [];
        foreach ([
            'script' => ['script', 'src'], 'iframe' => ['frame', 'src'], 'frame' => ['frame', 'src'], 'embed' => ['other', 'src'],
            'object' => ['other', 'data'], 'video' => ['media', 'src'], 'audio' => ['media', 'src'], 'source' => ['media', 'src'],
            'link' => ['style', 'href'],
        ] as $name => [$kind, $attribute]) {
            foreach ($tree->elements($name) as $node) {
                $reference = trim($tree->attribute($node, $attribute) ?? '');
                $kindHere = 'link' === $name ? self::kindOfLink($tree, $node) : $kind;
                if ('' === $reference || null === $kindHere || str_starts_with($reference, 'data:') || \count($parts) >= self::MOST) {
                    continue;
                }
                $url = null === $base ? $reference : (string) (Url::tryParse($reference, $base) ?? $reference);
                $parts[$kindHere.' '.$url] = new EmbeddedPart($kindHere, $url);
            }
        }

        return array_values($parts);
    }

    private static function kindOfLink(Tree $tree, int $link): ?string
    {
        $rel = explode(' ', (string) preg_replace('/\s+/', ' ', strtolower(trim($tree->attribute($link, 'rel') ?? ''))));
        if (\in_array('stylesheet', $rel, true)) {
            return 'style';
        }
        if (\in_array('preload', $rel, true) || \in_array('modulepreload', $rel, true)) {
            return match (strtolower($tree->attribute($link, 'as') ?? 'script')) {
                'font' => 'font',
                'style' => 'style',
                'script' => 'script',
                default => null,
            };
        }

        return null;
    }
}
