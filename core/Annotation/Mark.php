<?php

declare(strict_types=1);

namespace Ypomna\Core\Annotation;

/** A mark as far as it says where it stands. */
final readonly class Mark
{
    public function __construct(
        /** As the annotation has it; null if it has none. */
        public ?string $id,
        public ?Quote $quote,
        /** First and one past the last character in the text of the page (section 4.2.5); a hint. */
        public ?int $start = null,
        public ?int $end = null,
        /** The element around, as a CSS selector; a hint. */
        public ?string $around = null,
        /** In words, where no selector can be used; else null. */
        public ?string $problem = null,
    ) {
    }
}
