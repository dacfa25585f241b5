<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Value;

/** In which a report is taken along. */
enum ReportForm: string
{
    case Html = 'html';
    case Markdown = 'md';
    case Table = 'csv';

    public function type(): string
    {
        return match ($this) {
            self::Html => 'text/html; charset=utf-8',
            self::Markdown => 'text/markdown; charset=utf-8',
            self::Table => 'text/csv; charset=utf-8',
        };
    }
}
