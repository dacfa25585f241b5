<?php

declare(strict_types=1);

namespace Ypomna\Core\Page;

/** The smallest piece of text that is compared. */
final readonly class Passage
{
    public function __construct(
        public PassageKind $kind,
        /** As a reader sees it: white space folded, NFC, without invisible characters. */
        public string $text,
    ) {
    }
}
