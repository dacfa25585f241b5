<?php

declare(strict_types=1);

namespace Ypomna\Core\Mhtml;

/** One page of a file that holds several. */
final readonly class CollectedPage
{
    /**
     * @param list<CollectedPart> $parts the page's own document first
     * @param list<string> $leftOut what was left out, and why
     */
    public function __construct(
        public string $title,
        public string $url,
        public \DateTimeImmutable $at,
        public array $parts,
        public array $leftOut = [],
    ) {
    }
}
