<?php

declare(strict_types=1);

namespace Ypomna\App\Replay;

/** Long names for as long as one server of files runs. */
final class HostsInMemory implements LongHosts
{
    private const MOST = 100_000;

    /** @var array<string, string> names by mark */
    private array $names = [];

    public function mark(string $label, string $name): ?string
    {
        $mark = PageHosts::digest($label, $name);
        if (!isset($this->names[$mark]) && \count($this->names) >= self::MOST) {
            return null;
        }
        $this->names[$mark] = $name;

        return $mark;
    }

    public function keep(): void
    {
    }

    public function name(string $mark): ?string
    {
        return $this->names[$mark] ?? null;
    }
}
