<?php

declare(strict_types=1);

namespace Ypomna\App\Search\Value;

final readonly class EngineAnswer
{
    /**
     * @param int $texts in how many texts it stands
     * @param list<Hit> $hits as many as were asked for
     * @param int $ordered how many of them, from the first on, are in the order that was asked for
     */
    public function __construct(public int $texts, public array $hits, public int $ordered)
    {
    }
}
