<?php

declare(strict_types=1);

namespace Ypomna\Core\Citation;

/** What is to be done about one reference. */
final readonly class Repair
{
    /**
     * @param array<string, int|string|list<int>|null> $place of the reference
     * @param string $original the address as it is written
     * @param string $permanent the address in the archive
     * @param string $day of the capture, in the words of the draft's language
     * @param string $isoDay as 2024-11-03
     */
    public function __construct(
        public array $place,
        public string $original,
        public string $permanent,
        public string $day,
        public string $isoDay,
    ) {
    }

    public function place(string $name): int
    {
        $value = $this->place[$name] ?? null;

        return \is_int($value) ? $value : throw new \LogicException(\sprintf('The place of a reference lacks “%s”.', $name));
    }

    public function kind(): string
    {
        $value = $this->place['kind'] ?? '';

        return \is_string($value) ? $value : '';
    }
}
