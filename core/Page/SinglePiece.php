<?php

declare(strict_types=1);

namespace Ypomna\Core\Page;

use Ypomna\Core\Html\Tree;

/**
 * Whether a cell or an item is one piece of text, as a figure or a name is, or holds several blocks, as one that lays out a page.
 *
 * @internal
 */
final class SinglePiece
{
    private const PARTS = [
        'p' => 1, 'div' => 1, 'section' => 1, 'article' => 1, 'header' => 1, 'footer' => 1, 'blockquote' => 1, 'h1' => 1, 'h2' => 1,
        'h3' => 1, 'h4' => 1, 'h5' => 1, 'h6' => 1, 'pre' => 1, 'address' => 1, 'center' => 1, 'form' => 1, 'figure' => 1,
    ];
    /** What stands in it on its own. */
    private const APART = [
        'ul' => 1, 'ol' => 1, 'dl' => 1, 'table' => 1, 'script' => 1, 'style' => 1, 'template' => 1, 'noscript' => 1, 'select' => 1,
    ];
    private const MOST = 400;

    public static function isOne(Tree $tree, int $element): bool
    {
        $parts = 0;
        $steps = 0;
        // Each node with the block it belongs to; a block counts once it has text of its own.
        $waiting = [[$element, $element]];
        $counted = [];
        while (null !== ($next = array_pop($waiting)) && $steps++ < self::MOST) {
            [$node, $block] = $next;
            foreach ($tree->children($node) as $child) {
                if ($tree->isText($child)) {
                    if (!isset($counted[$block]) && '' !== trim($tree->text($child))) {
                        $counted[$block] = true;
                        if (++$parts > 1) {
                            return false;
                        }
                    }
                } elseif (!isset(self::APART[$tree->name($child)])) {
                    $waiting[] = [$child, isset(self::PARTS[$tree->name($child)]) ? $child : $block];
                }
            }
        }

        return true;
    }
}
