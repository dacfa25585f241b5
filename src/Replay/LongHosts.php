<?php

declare(strict_types=1);

namespace Ypomna\App\Replay;

/**
 * Names of hosts that are too long, or too odd, to stand in one label: what stands there for them, and what they were. Each right to read
 * has marks of its own, so that nobody learns by trying which names others were led to.
 */
interface LongHosts
{
    /**
     * What stands for a name; it is held from {@see keep} on.
     *
     * @param string $label of the right by which it is read
     * @param string $name host and port
     *
     * @return string|null null where one answer has too many of them
     */
    public function mark(string $label, string $name): ?string;

    /** Holds the names that marks were asked for. */
    public function keep(): void;

    /** The name that a mark stands for; null if none is held. */
    public function name(string $mark): ?string;
}
