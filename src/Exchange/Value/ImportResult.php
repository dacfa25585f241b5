<?php

declare(strict_types=1);

namespace Ypomna\App\Exchange\Value;

use Ypomna\Core\Warc\WarcFinding;

/** What came of taking in a file. */
final readonly class ImportResult
{
    /**
     * @param list<WarcFinding> $findings
     */
    public function __construct(
        public string $name,
        public string $sha256,
        public bool $known,
        public int $records,
        public int $captures,
        public array $findings,
        /** Its number in the catalogue. */
        public ?int $file = null,
    ) {
    }
}
