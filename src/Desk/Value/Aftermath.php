<?php

declare(strict_types=1);

namespace Ypomna\App\Desk\Value;

use Ypomna\App\Catalogue\Entity\Capture;

/** What became of a page since the capture that an item is about. */
final readonly class Aftermath
{
    /**
     * @param Capture|null $again the last one since that has the page
     * @param bool $changed whether captures since differ from the one before them
     * @param Capture|null $gone the last one of all, if it says that the page is gone
     */
    public function __construct(public ?Capture $again, public bool $changed, public ?Capture $gone)
    {
    }
}
