<?php

declare(strict_types=1);

namespace Ypomna\Core\Citation;

/** Of a text that is put together from pieces of a source: which piece a place of it comes from. */
final class Runs
{
    /** @var list<int> where each begins in the text, in rising order */
    private array $begins = [];
    /** @var list<int> where it begins in the source */
    private array $from = [];
    /** @var list<int> where it ends there */
    private array $to = [];

    public function add(int $begins, int $from, int $to): void
    {
        $this->begins[] = $begins;
        $this->from[] = $from;
        $this->to[] = $to;
    }

    public function forget(): void
    {
        $this->begins = $this->from = $this->to = [];
    }

    /**
     * The last piece that begins before a place of the text.
     *
     * @return array{int, int, int}|null where it begins in the text and in the source, and where it ends there
     */
    public function around(int $place): ?array
    {
        [$low, $high] = [0, \count($this->begins)];
        while ($low < $high) {
            $middle = intdiv($low + $high, 2);
            if ($this->begins[$middle] < $place) {
                $low = $middle + 1;
            } else {
                $high = $middle;
            }
        }

        $last = max(0, $low - 1);

        return 0 === $low ? null : [$this->begins[$last], $this->from[$last], $this->to[$last]];
    }
}
