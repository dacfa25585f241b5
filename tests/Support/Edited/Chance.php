<?php

declare(strict_types=1);

namespace Ypomna\Tests\Support\Edited;

/** Chance that can be repeated. */
final class Chance
{
    public function __construct(private int $seed)
    {
    }

    public function between(int $least, int $most): int
    {
        $this->seed = ($this->seed * 1_103_515_245 + 12_345) & 0x7FFFFFFF;

        return $least + ($this->seed >> 8) % ($most - $least + 1);
    }

    /**
     * @template T
     *
     * @param non-empty-list<T> $things
     *
     * @return T
     */
    public function of(array $things): mixed
    {
        return $things[$this->between(0, \count($things) - 1)];
    }
}
