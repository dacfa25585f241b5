<?php

declare(strict_types=1);

namespace Ypomna\App\Compare\Twig;

use Twig\Extension\AbstractExtension;
use Twig\TwigFunction;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Compare\PictureDigests;
use Ypomna\App\Compare\Value\ComparedCaptures;
use Ypomna\Core\Compare\WordDiff;
use Ypomna\Core\ShellWord;

/** What the screens of a comparison ask for. */
final class CompareExtension extends AbstractExtension
{
    public function __construct(private readonly PictureDigests $pictures)
    {
    }

    public function getFunctions(): array
    {
        return [
            new TwigFunction('selector_of', ComparedCaptures::selector(...)),
            new TwigFunction('picture_relation', $this->pictures->relation(...)),
            new TwigFunction('words_between', WordDiff::between(...)),
            new TwigFunction('compared_by', self::comparedBy(...)),
        ];
    }

    /** How the command for comparing names a capture, as a word of a command line. */
    public static function comparedBy(Capture $capture): string
    {
        return ShellWord::quote(basename($capture->warcFile->path).'#'.ShellWord::address($capture->url).'@'
            .$capture->capturedAt->setTimezone(new \DateTimeZone('UTC'))->format('Y-m-d\TH:i:s\Z'));
    }
}
