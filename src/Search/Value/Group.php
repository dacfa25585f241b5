<?php

declare(strict_types=1);

namespace Ypomna\App\Search\Value;

/** The texts of one page that were found, the best first. */
final class Group
{
    /** @var list<int> */
    public array $texts = [];
    public int $years = 0;
    public float $score = 0.0;

    public function __construct(public readonly Hit $best)
    {
    }

    public function key(): string
    {
        return $this->best->kind->value.'.'.$this->best->subject;
    }
}
