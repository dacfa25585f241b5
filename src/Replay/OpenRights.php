<?php

declare(strict_types=1);

namespace Ypomna\App\Replay;

use Ypomna\App\Replay\Value\ReadingRight;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Viewer;

/** On a server that only one reader reaches, hosts are named after the captures themselves. */
final readonly class OpenRights implements ReadingRights
{
    public function __construct(private Viewer $viewer)
    {
    }

    public function label(Viewer $viewer, string $capture): string
    {
        return $capture;
    }

    public function of(string $label): ?ReadingRight
    {
        return 1 === preg_match('/^'.Codes::PATTERN.'$/D', $label) ? new ReadingRight($this->viewer, $label) : null;
    }
}
