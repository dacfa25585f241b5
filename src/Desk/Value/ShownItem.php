<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Value;

use Ypomna\App\Catalogue\Value\CaptureFacts;
use Ypomna\App\Desk\Entity\Dossier;
use Ypomna\App\Desk\Entity\Item;

/** An item with what belongs to it, as far as somebody sees that. */
final readonly class ShownItem
{
    /**
     * @param list<string> $tags
     * @param list<Dossier> $dossiers by name
     * @param CaptureFacts|null $capture what it is about, if that is seen
     */
    public function __construct(
        public Item $item,
        public array $tags,
        public array $dossiers,
        public ?Item $parent,
        public ?CaptureFacts $capture,
    ) {
    }

    /** What it is called where it has no title. */
    public function name(): string
    {
        return '' !== $this->item->title ? $this->item->title : $this->capture->title ?? $this->capture->url ?? $this->item->url ?? '';
    }
}
