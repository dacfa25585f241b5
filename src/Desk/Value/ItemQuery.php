<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Value;

/** Which items are wanted; what is null says nothing. */
final readonly class ItemQuery
{
    /**
     * @param string|null $dossier code of the one in which they lie
     * @param string|null $within code of one in which they lie, or in one below it
     * @param string|null $parent code of the item right under which they are
     * @param string|null $tag name
     * @param string|null $capture code
     * @param \DateTimeImmutable|null $dueBefore a day
     * @param string|null $by name of who made them
     * @param string|null $words that stand in the title
     * @param array{string, int}|null $after what the list was ordered by, and number, of the one that was shown last
     */
    public function __construct(
        public ?bool $sorted = null,
        public ?string $dossier = null,
        public ?string $within = null,
        public ?string $parent = null,
        public ?ItemKind $kind = null,
        public ?string $tag = null,
        public ?string $capture = null,
        public ?\DateTimeImmutable $dueBefore = null,
        public ?bool $important = null,
        public ?string $by = null,
        public ItemOrder $order = ItemOrder::Newest,
        public ?array $after = null,
        public int $most = 50,
        public ?string $words = null,
    ) {
    }

    /** @param array{string, int} $after */
    public function from(array $after): self
    {
        return new self(
            $this->sorted, $this->dossier, $this->within, $this->parent, $this->kind, $this->tag, $this->capture, $this->dueBefore,
            $this->important, $this->by, $this->order, $after, $this->most, $this->words,
        );
    }
}
