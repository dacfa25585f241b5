<?php

declare(strict_types=1);

namespace Ypomna\App\Shared\Event;

use Ypomna\App\Shared\Viewer;

/** Somebody looks at what happened: whoever reminded them of something lately says so. */
final class RemindersAsked
{
    /** @var list<array{at: \DateTimeImmutable, title: string, path: string}> */
    private array $told = [];

    public function __construct(public readonly Viewer $viewer)
    {
    }

    /** @param string $path of what it is about, within the application */
    public function tell(\DateTimeImmutable $at, string $title, string $path): void
    {
        $this->told[] = ['at' => $at, 'title' => $title, 'path' => $path];
    }

    /** @return list<array{at: \DateTimeImmutable, title: string, path: string}> the last one first */
    public function told(): array
    {
        usort($this->told, static fn (array $a, array $b): int => $b['at'] <=> $a['at']);

        return $this->told;
    }
}
