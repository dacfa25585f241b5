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

    /**
     * @param list<string> $cells
     *
     * @return string a record of a table (RFC 4180, 2), its cells defused
     */
    public static function row(array $cells): string
    {
        return implode(',', array_map(static function (string $cell): string {
            $cell = self::defused($cell);

            return 1 === preg_match('/[",\r\n\']|^\s|\s$/', $cell) ? '"'.str_replace('"', '""', $cell).'"' : $cell;
        }, $cells))."\r\n";
    }

    public static function read(string $cell): string
    {
        return 1 === preg_match('/^\'+[=+\-@\t\r]/', $cell) ? substr($cell, 1) : $cell;
    }
}
