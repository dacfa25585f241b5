<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Value;

use Ypomna\App\Catalogue\Value\CaptureFacts;
use Ypomna\App\Desk\Entity\Item;

/** Something in a picture of what hangs together, and its place there. */
final readonly class Knot
{
    /** @param \DateTimeImmutable|null $at when the page was captured, of a capture or an item about one */
    public function __construct(
        public string $code,
        public Item|CaptureFacts $thing,
        public ?\DateTimeImmutable $at,
        public int $column,
        public float $row,
    ) {
    }

    public function isItem(): bool
    {
        return $this->thing instanceof Item;
    }

    public function name(): string
    {
        $title = (string) $this->thing->title;

        return '' !== $title ? $title : (string) $this->thing->url;
    }

    /** What it is: `capture` or the kind of an item. */
    public function kind(): string
    {
        return $this->thing instanceof Item ? $this->thing->kind->value : ItemKind::Capture->value;
    }
}
