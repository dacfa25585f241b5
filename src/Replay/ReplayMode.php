<?php

declare(strict_types=1);

namespace Ypomna\App\Replay;

/** How a page is read: with its scripts behind the wall, or as its rendered document, without them. */
enum ReplayMode: string
{
    case Alive = 'alive';
    case Still = 'still';

    public function mark(): string
    {
        return self::Still === $this ? '-s' : '';
    }
}
