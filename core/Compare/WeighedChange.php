<?php

declare(strict_types=1);

namespace Ypomna\Core\Compare;

/** A change of a passage, with what it matters and why. */
final readonly class WeighedChange
{
    /**
     * @param string $reason which rule says so: a word of {@see Weighing}, or the pattern or selector of a rule that was set
     * @param list<Telling> $telling
     */
    public function __construct(public PassageChange $change, public Weight $weight, public string $reason, public array $telling)
    {
    }
}
