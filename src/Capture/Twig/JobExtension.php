<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Twig;

use Twig\Extension\AbstractExtension;
use Twig\TwigFunction;
use Ypomna\App\Capture\JobList;
use Ypomna\App\Shared\CurrentPerson;

/** Lets every screen say whether the last attempt to capture an address failed. */
final class JobExtension extends AbstractExtension
{
    public function __construct(private readonly JobList $jobs, private readonly CurrentPerson $person)
    {
    }

    public function getFunctions(): array
    {
        return [new TwigFunction('last_failure', fn (string $url): ?array => $this->jobs->lastFailure($this->person->viewer(), $url))];
    }
}
