<?php

declare(strict_types=1);

namespace Ypomna\Core\Page;

use Ypomna\Core\Html\Tree;

/** Whether a reader sees an element, as far as its markup tells: attributes and inline style, not style sheets. */
final class Visibility
{
    /** Content that is no text of the page, or stands in for what is shown instead. */
    private const NEVER = [
        'script' => 1, 'style' => 1, 'head' => 1, 'title' => 1, 'noscript' => 1, 'iframe' => 1, 'object' => 1, 'applet' => 1, 'audio' => 1,
        'video' => 1, 'canvas' => 1, 'datalist' => 1, 'noframes' => 1, 'noembed' => 1, 'rp' => 1, 'param' => 1,
        'source' => 1, 'track' => 1, 'annotation' => 1, 'annotation-xml' => 1, 'desc' => 1, 'defs' => 1, 'metadata' => 1, 'symbol' => 1,
    ];

    /** Whether nothing in it is ever text of the page. */
    public static function isNoText(Tree $tree, int $node, string $name): bool
    {
        // What stands in a declared shadow root is shown (HTML Living Standard, section 4.12.3).
        return isset(self::NEVER[$name]) || ('template' === $name && null === $tree->attribute($node, 'shadowrootmode'));
    }

    /** Whether it takes up no place, with all that is in it. */
    public static function isAway(Tree $tree, int $node, string $name): bool
    {
        $attributes = $tree->attributes($node);

        return isset($attributes['hidden']) || isset($attributes['popover']) || ('dialog' === $name && !isset($attributes['open']))
            || ('none' === self::style($attributes['style'] ?? '', 'display'));
    }

    /** @return bool|null whether it is to be seen if its parent is; null where it follows its parent */
    public static function seen(Tree $tree, int $node): ?bool
    {
        return match (self::style($tree->attribute($node, 'style') ?? '', 'visibility')) {
            'hidden', 'collapse' => false,
            'visible', 'initial' => true,
            default => null,
        };
    }

    /** Whether an inline element is a block by its style. */
    public static function isBlock(Tree $tree, int $node): bool
    {
        $display = self::style($tree->attribute($node, 'style') ?? '', 'display');

        return null !== $display && 1 === preg_match('/^(?:block|flex|grid|list-item|flow-root|table)\b/', $display);
    }

    /** What an inline style says of a property, in lower case; the last word counts, an important one before others. */
    private static function style(string $style, string $property): ?string
    {
        if ('' === $style || false === stripos($style, $property)) {
            return null;
        }
        $value = null;
        $important = false;
        foreach (explode(';', (string) preg_replace('~/\*.*?(?:\*/|\z)~s', '', $style)) as $declaration) {
            if (1 === preg_match('/^\s*'.$property.'\s*:\s*([^!]*?)\s*(!\s*important)?\s*$/iD', $declaration, $m)
                && ('' !== ($m[2] ?? '') || !$important)) {
                $value = strtolower($m[1]);
                $important = '' !== ($m[2] ?? '');
            }
        }

        return $value;
    }
}
