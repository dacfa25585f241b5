<?php

declare(strict_types=1);

namespace Ypomna\Core\Compare;

use Ypomna\Core\Page\Passage;

/** One difference between two versions of a text. */
final readonly class PassageChange
{
    public function __construct(
        public ChangeKind $kind,
        public ?Passage $old,
        public ?Passage $new,
        /** Place among the passages of the old text, from 0; null if it is not there. */
        public ?int $oldAt,
        public ?int $newAt,
        /** Whether a changed passage stands elsewhere now. */
        public bool $moved = false,
    ) {
    }

    /**
     * What changed within the passage.
     *
     * @return list<WordSpan> in reading order; the old words of a place before the new ones
     */
    public function words(): array
    {
        return WordDiff::between($this->old->text ?? '', $this->new->text ?? '');
    }
}
