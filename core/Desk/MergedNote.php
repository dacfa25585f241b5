<?php

declare(strict_types=1);

namespace Ypomna\Core\Desk;

/** What became of a note that two people changed at the same time. */
final readonly class MergedNote
{
    /** @param list<array{0: string, 1?: string}> $pieces in the order of the note; a second text: the other made something else of it */
    public function __construct(public array $pieces)
    {
    }

    /** @return string|null null if both changed the same lines */
    public function text(): ?string
    {
        return $this->isDecided() ? $this->mine() : null;
    }

    /** The whole note with what the one made of the lines that both changed. */
    public function mine(): string
    {
        return implode("\n", array_column($this->pieces, 0));
    }

    public function theirs(): string
    {
        return implode("\n", array_map(static fn (array $piece): string => $piece[1] ?? $piece[0], $this->pieces));
    }

    /** With what both made of them, one behind the other. */
    public function both(): string
    {
        return implode("\n", array_map(static fn (array $piece): string => implode("\n", $piece), $this->pieces));
    }

    public function isDecided(): bool
    {
        return [] === array_filter($this->pieces, static fn (array $piece): bool => isset($piece[1]));
    }
}
