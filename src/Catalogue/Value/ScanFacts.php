<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue\Value;

use Ypomna\Core\Warc\WarcFinding;

/** What a file says of itself as a whole, and what is wrong with it. */
final readonly class ScanFacts
{
    /**
     * @param int $answerBytes of all answers, as they came over the wire
     * @param string $agent who made it; '' if it does not say
     * @param string $how `rendered`, `plain` or ''
     * @param bool $knowsDestinations whether requests say what was asked for: a document, a picture
     * @param list<WarcFinding> $findings
     */
    public function __construct(
        public int $records,
        public int $answers,
        public int $answerBytes,
        public string $agent,
        public string $how,
        public bool $knowsDestinations,
        public array $findings,
    ) {
    }
}
