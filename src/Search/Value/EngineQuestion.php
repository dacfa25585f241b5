<?php

declare(strict_types=1);

namespace Ypomna\App\Search\Value;

use Ypomna\Core\Search\Clause;
use Ypomna\Core\Search\Wanted;

/** What the index is asked. */
final readonly class EngineQuestion
{
    /**
     * @param list<Wanted> $wanted all of them must be there
     * @param list<Clause> $excluded none of them may be there
     * @param bool|null $isOpen only what everybody sees, or only what only some see; null for both
     * @param int|null $sorted of so many at least it is said in which order they come, which takes longer; null: of all
     * @param bool $countsAlone whether pages that everybody sees, and that are not among the first, are counted only
     * @param bool $isWhole whether it counts in which years they stood for anybody, not for everybody
     * @param int|null $subject number of the address or item; null for all
     */
    public function __construct(
        public array $wanted,
        public array $excluded = [],
        public bool $onlyDescriptions = false,
        public ?bool $isOpen = null,
        public ?Kind $kind = null,
        public ?int $subject = null,
        public ?string $site = null,
        public ?string $language = null,
        public ?int $year = null,
        public Order $order = Order::Relevance,
        public int $most = 10_001,
        public ?int $sorted = null,
        public bool $countsAlone = false,
        public bool $isWhole = false,
    ) {
    }

    public function withoutCounts(): self
    {
        return new self(
            $this->wanted, $this->excluded, $this->onlyDescriptions, $this->isOpen, $this->kind, $this->subject, $this->site,
            $this->language, $this->year, $this->order, $this->most, $this->sorted,
        );
    }

    /** @param bool|null $isOpen as above */
    public function counting(?bool $isOpen, bool $isWhole): self
    {
        return new self(
            $this->wanted, $this->excluded, $this->onlyDescriptions, $isOpen, $this->kind, $this->subject, $this->site,
            $this->language, $this->year, $this->order, $this->most, $this->sorted, true, $isWhole,
        );
    }
}
