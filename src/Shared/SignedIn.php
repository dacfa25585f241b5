<?php

declare(strict_types=1);

namespace Ypomna\App\Shared;

/** Whoever has signed in, as the rooms below `People` know them. */
interface SignedIn
{
    public function viewer(): Viewer;

    public function actor(): Actor;
}
