<?php

declare(strict_types=1);

namespace Ypomna\App\Desk;

/** What an act changed was changed again since, so it is not put back. */
final class ChangedSince extends \RuntimeException
{
    /** @param list<string> $items codes of those that were, as far as they are seen */
    public function __construct(public readonly array $items)
    {
        parent::__construct('These items were changed since: '.implode(', ', $items).'.');
    }
}
