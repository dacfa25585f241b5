<?php

declare(strict_types=1);

namespace Ypomna\Core\Annotation;

/** Where a mark stands on a page. */
final readonly class Placement
{
    public function __construct(
        public ?string $id,
        /** Null where the mark has no selector that can be used. */
        public ?Place $place,
        /** What stands there, passages parted by line ends; null if it is gone. */
        public ?string $text = null,
        /** The passage it stands in, of several the first; of words taken out of a passage, that one. */
        public ?string $passage = null,
        /** First and one past the last character in {@see \Ypomna\Core\Page\Document::text()}; null if it is gone. */
        public ?int $start = null,
        public ?int $end = null,
        /** 0 to 1, of the marked words to what stands there. */
        public float $likeness = 0.0,
        /** Whether the passage stands elsewhere now; null if the page that the mark was made on is not known. */
        public ?bool $moved = null,
        public ?string $problem = null,
        /** The number of the passage, from 0; null where there is none. */
        public ?int $passageNumber = null,
    ) {
    }

    /** @return array<string, mixed> as the command line tells it */
    public function data(): array
    {
        return [
            'id' => $this->id, 'place' => $this->place?->value, 'text' => $this->text, 'passage' => $this->passage,
            'start' => $this->start, 'end' => $this->end, 'likeness' => $this->likeness, 'moved' => $this->moved,
            'problem' => $this->problem,
        ];
    }
}
