<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue;

use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\Core\Warc\WarcError;

/** What a page calls itself. */
final readonly class TitleReader
{
    public function __construct(private CaptureContent $content)
    {
    }

    /** @return string|null null if it has none, or cannot be read */
    public function title(Capture $capture): ?string
    {
        if (null !== $capture->redirectTo || 1 !== preg_match('#html#', $capture->mime ?? '')) {
            return null;
        }
        try {
            $title = ScanSheets::plain($this->content->title($capture));
        } catch (WarcError) {
            return null;
        }

        return '' === $title ? null : $title;
    }
}
