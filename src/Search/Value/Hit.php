<?php

declare(strict_types=1);

namespace Ypomna\App\Search\Value;

/**
 * A text in which all stands that was asked for. It is counted if the index counted its page; of those that are equal, the one in the first
 * place comes first.
 */
final readonly class Hit
{
    public function __construct(
        public int $text,
        public Kind $kind,
        public int $subject,
        public bool $isOpen,
        public int $years,
        public int $allYears,
        public string $site,
        public string $language,
        public int $score,
        public int|string $sort = 0,
        public string $tags = '',
        public string $state = '',
        public bool $isCounted = false,
        public int $place = 0,
    ) {
    }

    public function withoutYears(): self
    {
        return new self(
            $this->text, $this->kind, $this->subject, $this->isOpen, 0, 0, $this->site, $this->language, $this->score, $this->sort,
            $this->tags, $this->state, $this->isCounted, $this->place,
        );
    }
}
