<?php

declare(strict_types=1);

namespace Ypomna\Core\Citation;

/** The words that are set beside an address that was led to the archive. */
final readonly class Wording
{
    /**
     * @param string $archived in front of the day: `archived`
     * @param string $original in front of the address as it was: `original:`
     */
    public function __construct(public string $archived = 'archived', public string $original = 'original:')
    {
    }

    public function beside(Repair $repair, bool $withOriginal = true): string
    {
        return '('.$this->archived.' '.$repair->day.($withOriginal ? '; '.$this->original.' '.$repair->original : '').')';
    }
}
