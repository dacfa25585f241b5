<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Value;

/** A word by which captures and items are tagged. */
final readonly class Tag
{
    /** @param int|null $parent number of the tag under which it stands */
    public function __construct(public int $id, public string $name, public TagKind $kind, public ?int $parent, public string $state)
    {
    }

    /** What tells this state of it from others. */
    public function etag(): string
    {
        return $this->id.'-'.$this->state;
    }
}
