<?php

declare(strict_types=1);

namespace Ypomna\Core\Desk;

/**
 * Cells that no spreadsheet takes for a formula: what would begin one has an apostrophe before it, and so has what begins with one and
 * would else be mistaken for that.
 */
final class CsvCells
{
    public static function defused(string $text): string
    {
        return 1 === preg_match('/^\'*[=+\-@\t\r]/', $text) ? "'".$text : $text;
    }

    public static function read(string $cell): string
    {
        return 1 === preg_match('/^\'+[=+\-@\t\r]/', $cell) ? substr($cell, 1) : $cell;
    }
}
