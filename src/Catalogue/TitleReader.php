<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue;

use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\Core\Page\Text;
use Ypomna\Core\Warc\WarcError;

/** What a page calls itself. */
final readonly class TitleReader
{
    public function __construct(private CaptureContent $content)
    {
    }

    /**
     * @param string|null $given the title that the browser showed, if the file says it
     */
    public function title(Capture $capture, ?string $given): ?string
    {
        $title = Text::normalise(mb_scrub($given ?? ''));
        if ('' === $title && null === $capture->redirectTo && 1 === preg_match('#html#', $capture->mime ?? '')) {
            try {
                $title = Text::normalise($this->content->title($capture));
            } catch (WarcError) {
                $title = '';
            }
        }

        return '' === $title ? null : mb_strimwidth($title, 0, 400, '…');
    }
}
