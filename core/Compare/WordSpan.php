<?php

declare(strict_types=1);

namespace Ypomna\Core\Compare;

/** A run of words that stands in both versions (kind null), or only in the old (removed) or the new (added) one. */
final readonly class WordSpan
{
    public function __construct(public ?ChangeKind $kind, public string $text)
    {
    }
}
