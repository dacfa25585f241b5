<?php

declare(strict_types=1);

namespace Ypomna\Core\Citation;

/** An address in a stretch of text. */
final readonly class Spot
{
    /**
     * @param string                                   $url    as it is written, entities and escapes taken off
     * @param int                                      $at     where it, or what is linked, begins in the text of the stretch, in bytes
     * @param int                                      $length of it in that text, in bytes
     * @param string                                   $label  what is linked, or the address itself
     * @param array<string, int|string|list<int>|null> $place  where it stands in the source, as the draft that found it needs it
     */
    public function __construct(public string $url, public int $at, public int $length, public string $label, public array $place)
    {
    }
}
