<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Twig;

use Twig\Extension\AbstractExtension;
use Twig\TwigFunction;
use Ypomna\App\Capture\CaptureDescriptions;

/** Lets every screen show what was written beside captures. */
final class DescriptionExtension extends AbstractExtension
{
    public function __construct(private readonly CaptureDescriptions $descriptions)
    {
    }

    public function getFunctions(): array
    {
        return [new TwigFunction('descriptions', $this->descriptions->ofCaptures(...))];
    }
}
