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
     * @param string $how a word of the family `how`, or ''
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

    /** The same, come by in a way that others than the file vouch for. */
    public function by(string $how): self
    {
        return new self(
            $this->records, $this->answers, $this->answerBytes, $this->agent, $how, $this->knowsDestinations, $this->findings,
        );
    }
}
