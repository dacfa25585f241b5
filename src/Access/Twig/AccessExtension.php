<?php

declare(strict_types=1);

namespace Ypomna\App\Access\Twig;

use Twig\Extension\AbstractExtension;
use Twig\TwigFunction;
use Ypomna\App\Access\Gate;
use Ypomna\App\Access\Right;
use Ypomna\App\Shared\CurrentPerson;

/** What the reader of a page may do: nothing is offered that would be refused. */
final class AccessExtension extends AbstractExtension
{
    public function __construct(private readonly CurrentPerson $person, private readonly Gate $gate)
    {
    }

    public function getFunctions(): array
    {
        return [new TwigFunction('may', $this->may(...)), new TwigFunction('is_signed_in', $this->isSignedIn(...))];
    }

    public function may(string $right): bool
    {
        return $this->gate->may($this->person->viewer(), Right::from($right));
    }

    public function isSignedIn(): bool
    {
        return null !== $this->person->viewer()->name;
    }
}
