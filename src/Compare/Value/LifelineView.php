<?php

declare(strict_types=1);

namespace Ypomna\App\Compare\Value;

/** Which lines are shown, and in what order. */
final readonly class LifelineView
{
    private function __construct(public string $word, public string $order, public string $show, public string $day, public int $page)
    {
    }

    public static function fromQuery(string $word, string $order, string $show, string $day, int $page): self
    {
        return new self(
            mb_substr(trim($word), 0, 200), 'time' === $order ? 'time' : 'place',
            \in_array($show, ['all', 'reworded', 'gone', 'new'], true) ? $show : 'changed',
            1 === preg_match('/^\d{4}-\d\d-\d\d$/D', $day) ? $day : '', max(1, min(1_000, $page)),
        );
    }

    /**
     * @return array<string, string|int>
     */
    public function parameters(): array
    {
        return array_filter(
            [
                'word' => $this->word, 'order' => 'place' === $this->order ? '' : $this->order,
                'show' => 'changed' === $this->show ? '' : $this->show, 'day' => $this->day,
            ],
            static fn (string $value): bool => '' !== $value,
        );
    }
}
