<?php

declare(strict_types=1);

namespace Ypomna\Core\Html;

/**
 * An element that is open.
 *
 * @internal
 */
final readonly class Open
{
    /** @param array<array-key, string> $attributes */
    public function __construct(public string $name, public int $node, public MarkupVocabulary $vocabulary, public array $attributes)
    {
    }

    public function isHtml(string $name): bool
    {
        return $this->name === $name && MarkupVocabulary::Html === $this->vocabulary;
    }
}
