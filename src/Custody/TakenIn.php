<?php

declare(strict_types=1);

namespace Ypomna\App\Custody;

use Ypomna\Core\Warc\Finding;

/** What came of taking in a file. */
final readonly class TakenIn
{
    /**
     * @param list<Finding> $findings
     */
    public function __construct(public string $name, public string $sha256, public bool $known, public int $records, public int $captures, public array $findings)
    {
    }
}
