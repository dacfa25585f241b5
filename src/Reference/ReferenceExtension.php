<?php

declare(strict_types=1);

namespace Ypomna\App\Reference;

use Twig\Extension\AbstractExtension;
use Twig\TwigFunction;

/** Lets every screen say how an address stands on the web today. */
final class ReferenceExtension extends AbstractExtension
{
    public function __construct(private readonly LiveBook $book)
    {
    }

    public function getFunctions(): array
    {
        return [new TwigFunction('live_states', $this->book->states(...)), new TwigFunction('live_looks', $this->book->looks(...))];
    }
}
