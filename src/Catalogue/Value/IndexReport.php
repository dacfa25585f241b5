<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue\Value;

use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\Core\Warc\Finding;

/** What came of entering a file in the catalogue. */
final readonly class IndexReport
{
    /**
     * @param list<Capture> $captures
     * @param list<Finding> $findings
     */
    public function __construct(public int $records, public array $captures, public array $findings)
    {
    }
}
