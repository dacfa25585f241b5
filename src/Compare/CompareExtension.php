<?php

declare(strict_types=1);

namespace Ypomna\App\Compare;

use Twig\Extension\AbstractExtension;
use Twig\TwigFunction;
use Ypomna\Core\Compare\WordDiff;

/** What the screens of a comparison ask for. */
final class CompareExtension extends AbstractExtension
{
    public function __construct(private readonly PictureDigests $pictures)
    {
    }

    public function getFunctions(): array
    {
        return [new TwigFunction('selector_of', Compared::selector(...)), new TwigFunction('picture_relation', $this->pictures->relation(...)), new TwigFunction('words_between', WordDiff::between(...))];
    }
}
