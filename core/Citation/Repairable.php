<?php

declare(strict_types=1);

namespace Ypomna\Core\Citation;

/** A draft that can be given back with its references led elsewhere, and all else as it was. */
interface Repairable extends Draft
{
    /**
     * Writes the repaired draft.
     *
     * @param list<Repair> $repairs
     * @param string $path a file that is not there yet
     *
     * @throws UnreadableDraft
     */
    public function repair(array $repairs, Wording $wording, string $path): void;
}
