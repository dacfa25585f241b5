<?php

declare(strict_types=1);

namespace Ypomna\App\Shared;

use Ypomna\Core\PlainText;

/** Lines of tables that people open in other programs. */
final class CsvLine
{
    /**
     * A line (RFC 4180); nothing in it can become a formula of the program that opens it.
     *
     * @param list<string> $cells
     */
    public static function of(array $cells): string
    {
        $cells = array_map(PlainText::lines(...), $cells);

        return implode(
            ',',
            array_map(
                static fn (string $cell): string => '"'
                    .str_replace('"', '""', (1 === preg_match('/^\s*[=+\-@\t\r|%＝＋－＠]/u', $cell) ? "'" : '').$cell).'"',
                $cells,
            ),
        )
            ."\r\n";
    }
}
