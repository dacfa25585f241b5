<?php

declare(strict_types=1);

namespace Ypomna\Core\Search;

/** One thing that is asked for: a word, a phrase, or a beginning. */
final readonly class Clause
{
    /**
     * @param non-empty-list<string> $words folded; several are a phrase, in this order
     * @param bool $isExcluded whether it must not be there
     * @param bool $isBeginning whether the last word only begins so
     * @param bool $isQuoted whether it is meant as it is written, and not inflected
     * @param string $written as somebody wrote it
     */
    public function __construct(
        public array $words,
        public bool $isExcluded,
        public bool $isBeginning,
        public bool $isQuoted,
        public string $written,
    ) {
    }

    /** Whether other forms of the word are meant, too. */
    public function isInflected(): bool
    {
        return 1 === \count($this->words) && !$this->isBeginning && !$this->isQuoted && !Folding::isPaired($this->words[0]);
    }
}
