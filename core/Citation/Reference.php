<?php

declare(strict_types=1);

namespace Ypomna\Core\Citation;

use Ypomna\Core\Address\Url;

/** An address that a draft refers to, and what the draft says about it. */
final readonly class Reference
{
    /**
     * @param int $position in the draft, from 1
     * @param string|null $note number or key of the note or entry that it stands in
     * @param string $label what is linked, or the address itself
     * @param string $context the note or sentence that it stands in
     * @param string $claim the sentence that the note is set behind; '' if there is none
     * @param string|null $accessed when the page was read, as 2024-11-03
     * @param list<string> $quotes what context and claim put in quotation marks
     * @param array<string, int|string|list<int>|null> $place see Spot
     */
    public function __construct(
        public int $position,
        public Url $url,
        public ?string $note,
        public string $label,
        public string $context,
        public string $claim,
        public ?string $accessed,
        public array $quotes,
        public array $place,
    ) {
    }
}
