<?php

declare(strict_types=1);

namespace Ypomna\App\Watch\Twig;

use Twig\Extension\AbstractExtension;
use Twig\TwigFunction;
use Ypomna\App\Shared\CurrentPerson;
use Ypomna\App\Watch\WatchEvents;

/** Lets every screen say how many events nobody has seen. */
final class WatchExtension extends AbstractExtension
{
    public function __construct(private readonly WatchEvents $events, private readonly CurrentPerson $person)
    {
    }

    public function getFunctions(): array
    {
        return [new TwigFunction('unseen_events', fn (): int => $this->events->unseen($this->person->viewer()))];
    }
}
