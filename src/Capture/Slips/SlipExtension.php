<?php

declare(strict_types=1);

namespace Ypomna\App\Capture\Slips;

use Twig\Extension\AbstractExtension;
use Twig\TwigFunction;

/** Lets every screen show what was written beside captures. */
final class SlipExtension extends AbstractExtension
{
    public function __construct(private readonly SlipDesk $slips)
    {
    }

    public function getFunctions(): array
    {
        return [new TwigFunction('slips', $this->slips->ofCaptures(...))];
    }
}
