<?php

declare(strict_types=1);

namespace Ypomna\Core\Citation;

/** A piece of a draft that belongs together: a paragraph, a note, an entry of a bibliography, a row of a table. */
final readonly class Stretch
{
    /**
     * @param string $text UTF-8, without markup
     * @param list<Spot> $spots in their order
     * @param string|null $note number or key, where it is a note or an entry
     * @param list<array{int, string}> $marks notes that are referred to: where, in bytes, and which
     * @param string|null $accessed as 2024-11-03, where the format has a field for it
     */
    public function __construct(
        public string $text,
        public array $spots,
        public ?string $note = null,
        public array $marks = [],
        public ?string $accessed = null,
    ) {
    }
}
