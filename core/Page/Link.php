<?php

declare(strict_types=1);

namespace Ypomna\Core\Page;

/** A link as a reader can follow it. */
final readonly class Link
{
    public function __construct(
        public string $text,
        /** Resolved where the page's base is known, else as written. */
        public string $href,
        /** The passage it stands in, by number; -1 if in none. */
        public int $passage = -1,
    ) {
    }

    public function in(int $passage): self
    {
        return new self($this->text, $this->href, $passage);
    }
}
