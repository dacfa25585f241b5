<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue\Value;

use Ypomna\Core\Warc\WarcFinding;

/** What came of entering a file in the catalogue. */
final readonly class IndexReport
{
    /**
     * @param int $file its number
     * @param int $captures pages, redirects on the way to them left out
     * @param list<WarcFinding> $findings
     */
    public function __construct(public int $file, public int $records, public int $captures, public array $findings)
    {
    }
}
