<?php

declare(strict_types=1);

namespace Ypomna\Core\Memento;

/** A link with its relations and attributes (RFC 8288, section 3). */
final readonly class WebLink
{
    /**
     * @param string $target as written
     * @param list<string> $relations in lower case
     * @param array<string, string> $attributes the first of each name, names in lower case
     */
    public function __construct(public string $target, public array $relations, public array $attributes)
    {
    }

    public function is(string $relation): bool
    {
        return \in_array($relation, $this->relations, true);
    }
}
