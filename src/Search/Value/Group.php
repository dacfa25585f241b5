<?php

declare(strict_types=1);

namespace Ypomna\App\Search\Value;

/** The texts of one page that were found, the best first. */
final class Group
{
    /** @var list<int> */
    public array $texts = [];
    public int $years = 0;
    /** Whether it has its place in the order that was asked for. */
    public bool $isOrdered = true;
    /** @var array<string, true> of all its texts */
    public array $tags = [];
    public float $score = 0.0;
    /** How many pages that are much like it stand below it, where such are put together. */
    public int $near = 0;
    /** @var list<FoundPiece>|null in which pieces of the best text it stands; null: not looked */
    public ?array $found = null;

    public function __construct(public readonly Hit $best)
    {
    }

    public function key(): string
    {
        return $this->best->kind->value.'.'.$this->best->subject;
    }
}
