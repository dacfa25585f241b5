<?php

declare(strict_types=1);

namespace Ypomna\Core\Citation;

/** What a draft found, as far as references are made of it: pieces with addresses or marks, up to a number. */
final class Gathered
{
    /** References are cut long before. */
    private const MOST = 20_000;

    /** @var list<Stretch> */
    private array $stretches = [];
    private int $spots = 0;
    private int $marks = 0;

    public function add(Stretch $stretch): void
    {
        if (([] !== $stretch->spots || [] !== $stretch->marks) && !$this->isFull()) {
            $this->stretches[] = $stretch;
            $this->spots += \count($stretch->spots);
            $this->marks += \count($stretch->marks);
        }
    }

    public function isFull(): bool
    {
        return $this->spots > self::MOST || $this->marks > 5 * self::MOST || \count($this->stretches) >= self::MOST;
    }

    /**
     * @return list<Stretch>
     */
    public function all(): array
    {
        return $this->stretches;
    }
}
