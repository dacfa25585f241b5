<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue\Twig;

use Twig\Extension\AbstractExtension;
use Twig\TwigFunction;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Catalogue\PagePictures;

/** Lets screens show the picture of a page, which stands in the file in tiles. */
final class PictureExtension extends AbstractExtension
{
    public function __construct(private readonly PagePictures $pictures)
    {
    }

    public function getFunctions(): array
    {
        return [new TwigFunction('page_tiles', fn (Capture $capture): int => \count($this->pictures->offsets($capture)))];
    }
}
