<?php

declare(strict_types=1);

// Writes down the trees of pages: a list of pages as JSON on standard input, a list of trees on standard output.

use Ypomna\Core\Html\Tree;
use Ypomna\Core\Html\TreeBuilder;

require dirname(__DIR__, 2).'/vendor/autoload.php';

$write = static function (Tree $tree, int $node, int $depth) use (&$write): string {
    $out = '';
    foreach ($tree->children($node) as $child) {
        $indent = str_repeat(' ', $depth);
        if ($tree->isText($child)) {
            $out .= $indent.'"'.str_replace("\n", '⏎', $tree->text($child))."\"\n";
            continue;
        }
        $attributes = [];
        foreach ($tree->attributes($child) as $name => $value) {
            $attributes[] = ' '.$name.'='.$value;
        }
        sort($attributes);
        $out .= $indent.'<'.$tree->name($child).implode('', $attributes).">\n".$write($tree, $child, $depth + 1);
    }

    return $out;
};
/** @var list<string> $pages */
$pages = json_decode((string) file_get_contents('php://stdin'), true, 4, \JSON_THROW_ON_ERROR);
echo json_encode(
    array_map(static fn (string $html): string => $write(TreeBuilder::tree($html), 0, 0), $pages),
    \JSON_THROW_ON_ERROR | \JSON_INVALID_UTF8_SUBSTITUTE,
);
