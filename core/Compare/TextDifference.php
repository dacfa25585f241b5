<?php

declare(strict_types=1);

namespace Ypomna\Core\Compare;

/** What differs between two texts, and which of their passages belong together. */
final readonly class TextDifference
{
    /**
     * @param list<PassageChange> $changes in reading order
     * @param float $similarity 0 to 1, by the amount of text
     * @param array<int, int> $partners of passages of the old text, the one of the new text that it is now
     */
    public function __construct(public array $changes, public float $similarity, public array $partners)
    {
    }

    /**
     * @return array<int, int> partners of those passages that did not move
     */
    public function stayed(): array
    {
        $stayed = $this->partners;
        foreach ($this->changes as $change) {
            if (null !== $change->oldAt && ($change->moved || ChangeKind::Moved === $change->kind)) {
                unset($stayed[$change->oldAt]);
            }
        }

        return $stayed;
    }
}
