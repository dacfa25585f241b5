<?php

declare(strict_types=1);

namespace Ypomna\Core\Page;

/** Words by which a page is told from others. */
final readonly class KeyPhrase
{
    public function __construct(public string $text, public float $weight, public int $times)
    {
    }
}
