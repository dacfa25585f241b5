<?php

declare(strict_types=1);

namespace Ypomna\App\Watch;

use Twig\Extension\AbstractExtension;
use Twig\TwigFunction;

/** Lets every screen say how many events nobody has seen. */
final class WatchExtension extends AbstractExtension
{
    public function __construct(private readonly EventBook $events)
    {
    }

    public function getFunctions(): array
    {
        return [new TwigFunction('unseen_events', $this->events->unseen(...))];
    }
}
