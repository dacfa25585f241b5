<?php

declare(strict_types=1);

namespace Ypomna\App\Replay;

use Ypomna\App\Replay\Value\ReadingRight;
use Ypomna\App\Shared\Viewer;

/** Who may read what stands at a host of archived pages: its name says it, and nothing else. */
interface ReadingRights
{
    /** The label of the hosts at which somebody reads a capture. */
    public function label(Viewer $viewer, string $capture): string;

    /** Whose label it is, and of which capture; null if it is nobody's, or no longer. */
    public function of(string $label): ?ReadingRight;
}
