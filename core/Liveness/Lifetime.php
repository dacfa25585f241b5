<?php

declare(strict_types=1);

namespace Ypomna\Core\Liveness;

/** How long a page lived, as far as it is known: it was seen alive at one age, and gone at a later one, or not yet. */
final readonly class Lifetime
{
    /**
     * @param float $alive days from when it was first held to when it was last seen alive
     * @param float|null $gone to when it was first found gone; null if it never was
     */
    public function __construct(public float $alive, public ?float $gone = null)
    {
        if ($alive < 0.0 || (null !== $gone && $gone < $alive)) {
            throw new \InvalidArgumentException('A page is found gone after it was seen alive.');
        }
    }
}
