<?php

declare(strict_types=1);

namespace Ypomna\App\Liveness\Twig;

use Twig\Extension\AbstractExtension;
use Twig\TwigFunction;
use Ypomna\App\Liveness\CheckRepository;

/** Lets every screen say how an address stands on the web today. */
final class LiveExtension extends AbstractExtension
{
    public function __construct(private readonly CheckRepository $checks)
    {
    }

    public function getFunctions(): array
    {
        return [new TwigFunction('live_states', $this->checks->states(...)), new TwigFunction('live_checks', $this->checks->history(...))];
    }
}
