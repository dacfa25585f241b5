<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue\Twig;

use Twig\Extension\AbstractExtension;
use Twig\TwigFunction;
use Ypomna\App\Catalogue\CaptureLimits;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Shared\CurrentPerson;

/** Lets screens say whether a capture is confidential, and offer to change that. */
final class LimitExtension extends AbstractExtension
{
    public function __construct(private readonly CaptureLimits $limits, private readonly CurrentPerson $person)
    {
    }

    public function getFunctions(): array
    {
        return [
            new TwigFunction(
                'is_confidential', fn (Capture $capture): bool => $this->limits->isConfidential($this->person->viewer(), $capture),
            ),
            new TwigFunction('may_say', fn (Capture $capture): bool => $this->limits->maySay($this->person->viewer(), $capture)),
        ];
    }
}
