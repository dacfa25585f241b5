<?php

declare(strict_types=1);

namespace Ypomna\App\Search\Value;

final readonly class EngineAnswer
{
    /**
     * @param int $texts in how many texts it stands
     * @param list<Hit> $hits as many as were asked for
     * @param int $ordered how many of them, from the first on, are in the order that was asked for
     * @param PageCounts|null $pages that everybody sees, if they were counted: among the hits are then only those that are in order
     */
    public function __construct(public int $texts, public array $hits, public int $ordered, public ?PageCounts $pages = null)
    {
    }

    /** Whether each text that was found is among the hits, or its page counted. */
    public function isAll(): bool
    {
        return null !== $this->pages || $this->texts <= \count($this->hits);
    }
}
