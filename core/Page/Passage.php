<?php

declare(strict_types=1);

namespace Ypomna\Core\Page;

/** The smallest piece of text that is compared. */
final readonly class Passage
{
    /** The text without anything that takes up no width; equal for passages that read the same. */
    public string $key;

    public function __construct(
        public PassageKind $kind,
        /** As a reader sees it: white space folded, NFC, without invisible characters. */
        public string $text,
        /** Of a cell of a table. */
        public ?CellPlace $cell = null,
        /** The heading above; '' where there is none. */
        public string $heading = '',
        /** The elements around it from the outermost on, as {@see PathStep} writes them, parted by blanks; '' of plain text. */
        public string $path = '',
        /** The block it stands in, by number, so that sentences of one paragraph are known. */
        public int $block = 0,
    ) {
        $this->key = Text::key($text);
    }
}
