<?php

declare(strict_types=1);

namespace Ypomna\App\Liveness\Twig;

use Twig\Extension\AbstractExtension;
use Twig\TwigFunction;
use Ypomna\App\Liveness\CheckRepository;
use Ypomna\App\Shared\CurrentPerson;

/** Lets every screen say how an address stands on the web today. */
final class LiveExtension extends AbstractExtension
{
    public function __construct(private readonly CheckRepository $checks, private readonly CurrentPerson $person)
    {
    }

    public function getFunctions(): array
    {
        return [
            new TwigFunction('live_states', fn (string $url): array => $this->checks->states($this->person->viewer(), $url)),
            new TwigFunction('live_checks', fn (string $url): array => $this->checks->history($this->person->viewer(), $url)),
        ];
    }
}
