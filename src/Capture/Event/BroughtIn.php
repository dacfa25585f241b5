<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Event;

/**
 * Somebody brought something in by one act, and did not say where it goes: a page, a list of pages, a site, a file. What comes by
 * itself, as captures by watches do, is not told.
 */
final readonly class BroughtIn
{
    /**
     * @param string $person who did
     * @param string $origin kind and code of what came, so that it is not taken twice: `job:CODE`
     * @param string|null $capture code, if it is one
     * @param string|null $url where a site begins
     * @param string|null $sha256 of a file
     * @param list<string> $tags
     */
    public function __construct(
        public string $person,
        public string $origin,
        public string $title = '',
        public string $why = '',
        public array $tags = [],
        public ?string $capture = null,
        public ?string $url = null,
        public ?string $sha256 = null,
        public bool $confidential = false,
        public ?\DateTimeImmutable $due = null,
    ) {
    }
}
