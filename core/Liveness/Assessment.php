<?php

declare(strict_types=1);

namespace Ypomna\Core\Liveness;

/** A verdict with what it rests on. */
final readonly class Assessment
{
    public LiveVerdict $verdict;

    /**
     * @param list<string> $evidence in words
     * @param float $confidence 0 to 1
     */
    public function __construct(public LiveReason $reason, public array $evidence, public float $confidence)
    {
        $this->verdict = $reason->verdict();
    }
}
