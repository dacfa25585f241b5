<?php

declare(strict_types=1);

namespace Ypomna\App\Shared;

/** Finds people by name, for work that is done later in their name. `People` answers. */
interface KnownPeople
{
    /** As they are now; nobody, if there is no such person any more. */
    public function viewer(string $name): Viewer;

    /** Whose feed a key opens; nobody, if it opens none. */
    public function readerOfFeed(string $key): Viewer;
}
