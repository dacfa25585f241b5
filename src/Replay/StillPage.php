<?php

declare(strict_types=1);

namespace Ypomna\App\Replay;

use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Shared\PublicUrl;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Address\Url;

/** Where the walled-in page of a capture stands, still: for a frame of ours in which nobody chose to let its scripts run. */
final readonly class StillPage
{
    public function __construct(private PageHosts $hosts, private ReadingRights $rights, private PublicUrl $public)
    {
    }

    public function of(Viewer $viewer, Capture $capture): string
    {
        $links = new CaptureLinks(
            $this->hosts, $this->rights->label($viewer, $capture->code), ReplayMode::Still, $this->public->scheme,
            $this->public->portPart(),
        );

        return $links->place(Url::parse($capture->url.(null === $capture->fragment ? '' : '#'.$capture->fragment)));
    }
}
